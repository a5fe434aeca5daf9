CREATE SCHEMA IF NOT EXISTS "imported";--> statement-breakpoint
CREATE SCHEMA IF NOT EXISTS "staging";--> statement-breakpoint
-- Tables of the demo company lay in a schema of their own and in no registry: they move to the others and are registered.
DO $$
DECLARE one record;
BEGIN
  FOR one IN SELECT table_name AS id FROM information_schema.tables WHERE table_schema = 'hollin_marsh' LOOP
    EXECUTE format('ALTER TABLE hollin_marsh.%I SET SCHEMA imported', one.id);
    INSERT INTO app.sources (id, label, schema_name, table_name, columns, origin)
    SELECT one.id, initcap(replace(one.id, '_', ' ')), 'imported', one.id,
      (SELECT jsonb_agg(jsonb_build_object('column', column_name, 'label', initcap(replace(column_name, '_', ' ')), 'from', column_name,
         'type', CASE WHEN data_type = 'numeric' THEN 'decimal' WHEN data_type IN ('integer', 'bigint') THEN 'integer'
           WHEN data_type = 'date' THEN 'date' WHEN data_type = 'boolean' THEN 'boolean' ELSE 'text' END,
         'scale', CASE WHEN data_type = 'numeric' THEN coalesce(numeric_scale, 0) ELSE 0 END) ORDER BY ordinal_position)
       FROM information_schema.columns WHERE table_schema = 'imported' AND table_name = one.id),
      jsonb_build_object('kind', 'file', 'fileName', one.id || '.csv')
    ON CONFLICT DO NOTHING;
  END LOOP;
  DROP SCHEMA IF EXISTS hollin_marsh;
  -- What a killed server had staged lay beside the imported tables: what no registry knows goes.
  FOR one IN SELECT table_name AS id FROM information_schema.tables
    WHERE table_schema = 'imported' AND table_name ~ '^staging_[0-9a-f]{32}$' AND table_name NOT IN (SELECT id FROM app.sources) LOOP
    EXECUTE format('DROP TABLE imported.%I', one.id);
  END LOOP;
END $$;--> statement-breakpoint
ALTER TABLE "app"."sources" DROP COLUMN "schema_name";--> statement-breakpoint
ALTER TABLE "app"."sources" DROP COLUMN "table_name";