CREATE TABLE "app"."job_files" (
	"job_id" text PRIMARY KEY NOT NULL,
	"name" text NOT NULL,
	"type" text NOT NULL,
	"size" integer NOT NULL,
	"bytes" "bytea" NOT NULL
);
--> statement-breakpoint
CREATE TABLE "app"."jobs" (
	"id" text PRIMARY KEY NOT NULL,
	"kind" text NOT NULL,
	"owner_id" text NOT NULL,
	"input" jsonb NOT NULL,
	"state" text DEFAULT 'queued' NOT NULL,
	"progress" real DEFAULT 0 NOT NULL,
	"problem" text DEFAULT '' NOT NULL,
	"outcome" text DEFAULT '' NOT NULL,
	"attempts" integer DEFAULT 0 NOT NULL,
	"lease_until" timestamp with time zone,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"kept_until" timestamp with time zone NOT NULL
);
--> statement-breakpoint
ALTER TABLE "app"."job_files" ADD CONSTRAINT "job_files_job_id_jobs_id_fk" FOREIGN KEY ("job_id") REFERENCES "app"."jobs"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "app"."jobs" ADD CONSTRAINT "jobs_owner_id_people_id_fk" FOREIGN KEY ("owner_id") REFERENCES "app"."people"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "jobs_by_owner" ON "app"."jobs" USING btree ("owner_id","created_at");--> statement-breakpoint
CREATE INDEX "jobs_open" ON "app"."jobs" USING btree ("state","created_at");