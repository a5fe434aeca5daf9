CREATE SCHEMA "app";
--> statement-breakpoint
CREATE TABLE "app"."access_rules" (
	"id" bigserial PRIMARY KEY NOT NULL,
	"person_id" text,
	"group_id" text,
	"dataset" text NOT NULL,
	"field" text NOT NULL,
	"members" jsonb NOT NULL
);
--> statement-breakpoint
CREATE TABLE "app"."datasets" (
	"name" text PRIMARY KEY NOT NULL,
	"definition" jsonb NOT NULL,
	"version" integer DEFAULT 1 NOT NULL,
	"updated_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "app"."editions" (
	"report_id" text NOT NULL,
	"number" integer NOT NULL,
	"document" jsonb NOT NULL,
	"note" text DEFAULT '' NOT NULL,
	"published_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "editions_report_id_number_pk" PRIMARY KEY("report_id","number")
);
--> statement-breakpoint
CREATE TABLE "app"."group_members" (
	"group_id" text NOT NULL,
	"person_id" text NOT NULL,
	CONSTRAINT "group_members_group_id_person_id_pk" PRIMARY KEY("group_id","person_id")
);
--> statement-breakpoint
CREATE TABLE "app"."groups" (
	"id" text PRIMARY KEY NOT NULL,
	"name" text NOT NULL
);
--> statement-breakpoint
CREATE TABLE "app"."people" (
	"id" text PRIMARY KEY NOT NULL,
	"name" text NOT NULL,
	"email" text NOT NULL,
	"title" text DEFAULT '' NOT NULL,
	"role" text NOT NULL,
	"password_hash" text NOT NULL,
	"demo_position" integer
);
--> statement-breakpoint
CREATE TABLE "app"."reports" (
	"id" text PRIMARY KEY NOT NULL,
	"draft" jsonb NOT NULL,
	"revision" integer DEFAULT 1 NOT NULL,
	"owner" text,
	"updated_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "app"."sessions" (
	"token_hash" text PRIMARY KEY NOT NULL,
	"person_id" text NOT NULL,
	"expires_at" timestamp with time zone NOT NULL
);
--> statement-breakpoint
ALTER TABLE "app"."access_rules" ADD CONSTRAINT "access_rules_person_id_people_id_fk" FOREIGN KEY ("person_id") REFERENCES "app"."people"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "app"."access_rules" ADD CONSTRAINT "access_rules_group_id_groups_id_fk" FOREIGN KEY ("group_id") REFERENCES "app"."groups"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "app"."editions" ADD CONSTRAINT "editions_report_id_reports_id_fk" FOREIGN KEY ("report_id") REFERENCES "app"."reports"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "app"."group_members" ADD CONSTRAINT "group_members_group_id_groups_id_fk" FOREIGN KEY ("group_id") REFERENCES "app"."groups"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "app"."group_members" ADD CONSTRAINT "group_members_person_id_people_id_fk" FOREIGN KEY ("person_id") REFERENCES "app"."people"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "app"."reports" ADD CONSTRAINT "reports_owner_people_id_fk" FOREIGN KEY ("owner") REFERENCES "app"."people"("id") ON DELETE set null ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "app"."sessions" ADD CONSTRAINT "sessions_person_id_people_id_fk" FOREIGN KEY ("person_id") REFERENCES "app"."people"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE UNIQUE INDEX "people_email" ON "app"."people" USING btree ("email");--> statement-breakpoint
CREATE INDEX "sessions_expiry" ON "app"."sessions" USING btree ("expires_at");