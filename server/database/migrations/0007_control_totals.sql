CREATE TABLE "app"."control_totals" (
	"id" text PRIMARY KEY NOT NULL,
	"dataset" text NOT NULL,
	"measure" text NOT NULL,
	"filter" jsonb,
	"expected" text NOT NULL,
	"note" text DEFAULT '' NOT NULL,
	"person_id" text,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
ALTER TABLE "app"."control_totals" ADD CONSTRAINT "control_totals_dataset_datasets_name_fk" FOREIGN KEY ("dataset") REFERENCES "app"."datasets"("name") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "app"."control_totals" ADD CONSTRAINT "control_totals_person_id_people_id_fk" FOREIGN KEY ("person_id") REFERENCES "app"."people"("id") ON DELETE set null ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "control_totals_by_dataset" ON "app"."control_totals" USING btree ("dataset");