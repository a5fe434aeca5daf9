CREATE TABLE "app"."saved_views" (
	"id" text PRIMARY KEY NOT NULL,
	"report_id" text NOT NULL,
	"person_id" text NOT NULL,
	"name" text NOT NULL,
	"query" jsonb NOT NULL,
	"is_start" boolean DEFAULT false NOT NULL
);
--> statement-breakpoint
ALTER TABLE "app"."saved_views" ADD CONSTRAINT "saved_views_report_id_reports_id_fk" FOREIGN KEY ("report_id") REFERENCES "app"."reports"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "app"."saved_views" ADD CONSTRAINT "saved_views_person_id_people_id_fk" FOREIGN KEY ("person_id") REFERENCES "app"."people"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE UNIQUE INDEX "saved_views_name" ON "app"."saved_views" USING btree ("report_id","person_id","name");--> statement-breakpoint
CREATE UNIQUE INDEX "saved_views_start" ON "app"."saved_views" USING btree ("report_id","person_id") WHERE is_start;