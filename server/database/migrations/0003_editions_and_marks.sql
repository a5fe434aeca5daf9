CREATE TABLE "app"."report_marks" (
	"report_id" text NOT NULL,
	"person_id" text NOT NULL,
	"favourite" boolean DEFAULT false NOT NULL,
	"opened_at" timestamp with time zone,
	CONSTRAINT "report_marks_report_id_person_id_pk" PRIMARY KEY("report_id","person_id")
);
--> statement-breakpoint
ALTER TABLE "app"."editions" ADD COLUMN "person_id" text;--> statement-breakpoint
ALTER TABLE "app"."reports" ADD COLUMN "deleted_at" timestamp with time zone;--> statement-breakpoint
ALTER TABLE "app"."report_marks" ADD CONSTRAINT "report_marks_report_id_reports_id_fk" FOREIGN KEY ("report_id") REFERENCES "app"."reports"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "app"."report_marks" ADD CONSTRAINT "report_marks_person_id_people_id_fk" FOREIGN KEY ("person_id") REFERENCES "app"."people"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "app"."editions" ADD CONSTRAINT "editions_person_id_people_id_fk" FOREIGN KEY ("person_id") REFERENCES "app"."people"("id") ON DELETE set null ON UPDATE no action;