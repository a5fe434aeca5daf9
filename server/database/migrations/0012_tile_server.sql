CREATE TABLE "app"."tile_server" (
	"one" boolean PRIMARY KEY DEFAULT true NOT NULL,
	"address" text NOT NULL,
	"attribution" text DEFAULT '' NOT NULL,
	CONSTRAINT "tile_server_is_one" CHECK ("app"."tile_server"."one")
);
