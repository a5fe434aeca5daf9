ALTER TABLE "app"."mails" ADD COLUMN "rules" jsonb;--> statement-breakpoint
ALTER TABLE "app"."signals" ADD COLUMN "rules" jsonb;--> statement-breakpoint
ALTER TABLE "app"."watches" ADD COLUMN "rules" jsonb;