CREATE TABLE "app"."stagings" (
	"table_name" text PRIMARY KEY NOT NULL,
	"instance" bigint NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
ALTER TABLE "app"."connections" ADD COLUMN "revision" integer DEFAULT 1 NOT NULL;--> statement-breakpoint
ALTER TABLE "app"."datasets" ADD COLUMN "owner" text;--> statement-breakpoint
ALTER TABLE "app"."datasets" ADD COLUMN "access_decided" boolean DEFAULT true NOT NULL;--> statement-breakpoint
ALTER TABLE "app"."datasets" ADD COLUMN "access_revision" integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "app"."loads" ADD COLUMN "instance" bigint;--> statement-breakpoint
ALTER TABLE "app"."loads" ADD COLUMN "content" text;--> statement-breakpoint
ALTER TABLE "app"."sources" ADD COLUMN "revision" integer DEFAULT 1 NOT NULL;--> statement-breakpoint
ALTER TABLE "app"."sources" ADD COLUMN "owner" text;--> statement-breakpoint
ALTER TABLE "app"."sources" ADD COLUMN "recipe" jsonb;--> statement-breakpoint
ALTER TABLE "app"."datasets" ADD CONSTRAINT "datasets_owner_people_id_fk" FOREIGN KEY ("owner") REFERENCES "app"."people"("id") ON DELETE set null ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "app"."sources" ADD CONSTRAINT "sources_owner_people_id_fk" FOREIGN KEY ("owner") REFERENCES "app"."people"("id") ON DELETE set null ON UPDATE no action;--> statement-breakpoint
UPDATE "app"."loads" SET state = 'failed', finished_at = now() WHERE state = 'running';--> statement-breakpoint
CREATE UNIQUE INDEX "loads_running" ON "app"."loads" USING btree ("source_id") WHERE state = 'running';