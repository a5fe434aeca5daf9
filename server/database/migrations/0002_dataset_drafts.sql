ALTER TABLE "app"."datasets" ADD COLUMN "draft" jsonb;--> statement-breakpoint
ALTER TABLE "app"."datasets" ADD COLUMN "draft_revision" integer DEFAULT 0 NOT NULL;