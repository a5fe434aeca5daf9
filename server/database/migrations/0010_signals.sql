CREATE TABLE "app"."mails" (
	"id" bigserial PRIMARY KEY NOT NULL,
	"person_id" text NOT NULL,
	"address" text NOT NULL,
	"subject" text NOT NULL,
	"body" text NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "app"."signals" (
	"id" bigserial PRIMARY KEY NOT NULL,
	"person_id" text NOT NULL,
	"report_id" text NOT NULL,
	"label" text NOT NULL,
	"query" jsonb NOT NULL,
	"state_before" text NOT NULL,
	"state_after" text NOT NULL,
	"value_before" text NOT NULL,
	"value_after" text NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	"seen_at" timestamp with time zone
);
--> statement-breakpoint
CREATE TABLE "app"."watches" (
	"id" text PRIMARY KEY NOT NULL,
	"person_id" text NOT NULL,
	"report_id" text NOT NULL,
	"exhibit" text NOT NULL,
	"watched" jsonb NOT NULL,
	"asked" jsonb NOT NULL,
	"label" text NOT NULL,
	"query" jsonb NOT NULL,
	"state" text NOT NULL,
	"value" text NOT NULL,
	"problem" text DEFAULT '' NOT NULL,
	"looks" integer DEFAULT 0 NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
ALTER TABLE "app"."mails" ADD CONSTRAINT "mails_person_id_people_id_fk" FOREIGN KEY ("person_id") REFERENCES "app"."people"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "app"."signals" ADD CONSTRAINT "signals_person_id_people_id_fk" FOREIGN KEY ("person_id") REFERENCES "app"."people"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "app"."signals" ADD CONSTRAINT "signals_report_id_reports_id_fk" FOREIGN KEY ("report_id") REFERENCES "app"."reports"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "app"."watches" ADD CONSTRAINT "watches_person_id_people_id_fk" FOREIGN KEY ("person_id") REFERENCES "app"."people"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "app"."watches" ADD CONSTRAINT "watches_report_id_reports_id_fk" FOREIGN KEY ("report_id") REFERENCES "app"."reports"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "mails_by_person" ON "app"."mails" USING btree ("person_id","id");--> statement-breakpoint
CREATE INDEX "signals_by_person" ON "app"."signals" USING btree ("person_id","id");--> statement-breakpoint
CREATE INDEX "watches_by_person" ON "app"."watches" USING btree ("person_id");