CREATE TABLE "app"."pictures" (
	"id" text PRIMARY KEY NOT NULL,
	"type" text NOT NULL,
	"bytes" "bytea" NOT NULL,
	"used_at" timestamp with time zone DEFAULT now() NOT NULL
);
