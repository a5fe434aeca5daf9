CREATE TABLE "app"."connections" (
	"id" text PRIMARY KEY NOT NULL,
	"label" text NOT NULL,
	"host" text NOT NULL,
	"port" integer NOT NULL,
	"database" text NOT NULL,
	"user_name" text NOT NULL,
	"secret" text NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "app"."corrections" (
	"dataset" text NOT NULL,
	"level" text NOT NULL,
	"text" text NOT NULL,
	"member" text NOT NULL,
	CONSTRAINT "corrections_dataset_level_text_pk" PRIMARY KEY("dataset","level","text")
);
--> statement-breakpoint
CREATE TABLE "app"."loads" (
	"id" bigserial PRIMARY KEY NOT NULL,
	"source_id" text NOT NULL,
	"kind" text NOT NULL,
	"state" text NOT NULL,
	"started_at" timestamp with time zone DEFAULT now() NOT NULL,
	"finished_at" timestamp with time zone,
	"rows" integer,
	"message" text DEFAULT '' NOT NULL,
	"person_id" text
);
--> statement-breakpoint
CREATE TABLE "app"."sources" (
	"id" text PRIMARY KEY NOT NULL,
	"label" text NOT NULL,
	"schema_name" text NOT NULL,
	"table_name" text NOT NULL,
	"columns" jsonb NOT NULL,
	"key" jsonb DEFAULT '[]'::jsonb NOT NULL,
	"origin" jsonb NOT NULL,
	"live" boolean DEFAULT false NOT NULL,
	"schedule" text,
	"rows" integer DEFAULT 0 NOT NULL,
	"updated_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
ALTER TABLE "app"."loads" ADD CONSTRAINT "loads_source_id_sources_id_fk" FOREIGN KEY ("source_id") REFERENCES "app"."sources"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "app"."loads" ADD CONSTRAINT "loads_person_id_people_id_fk" FOREIGN KEY ("person_id") REFERENCES "app"."people"("id") ON DELETE set null ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "loads_by_source" ON "app"."loads" USING btree ("source_id","id");