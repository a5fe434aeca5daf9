ALTER TABLE "app"."pictures" RENAME TO "assets";
