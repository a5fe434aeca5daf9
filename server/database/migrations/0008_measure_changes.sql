CREATE TABLE "app"."measure_changes" (
	"id" bigserial PRIMARY KEY NOT NULL,
	"dataset" text NOT NULL,
	"measure" text NOT NULL,
	"formula" text,
	"person_id" text,
	"at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
ALTER TABLE "app"."measure_changes" ADD CONSTRAINT "measure_changes_dataset_datasets_name_fk" FOREIGN KEY ("dataset") REFERENCES "app"."datasets"("name") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "app"."measure_changes" ADD CONSTRAINT "measure_changes_person_id_people_id_fk" FOREIGN KEY ("person_id") REFERENCES "app"."people"("id") ON DELETE set null ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "measure_changes_by_measure" ON "app"."measure_changes" USING btree ("dataset","measure","id");