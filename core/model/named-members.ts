import { z } from 'zod';

/**
 * How a setting names members of fields. Whatever in a document names members is marked with one of these where its schema
 * stands, so that one walk leaves out what a reader may not see.
 */
export type NamingOfMembers =
  /** One value of the field that `field` beside it names; several of them. */
  | 'value'
  | 'values'
  /** Members of the level whose settings these are; of some level of the axes where they are of no single one. */
  | 'members'
  /** Settings of levels, by the name of the field. */
  | 'levels'
  /** Members by the name of their field. */
  | 'by field'
  /** A path along one of the axes that something goes by. */
  | 'place'
  /** Paths along the fields that `fields` beside them names. */
  | 'paths'
  /** What is said of one path along an axis, and is nothing without it. */
  | 'branch'
  /** What is said of one point of a chart, and is nothing without it. */
  | 'point'
  /** Settings of the series of a chart, by their key. */
  | 'series';

const marks = z.registry<{ as: NamingOfMembers }>();

/** A schema, marked as one that names members. Goes around it last: what is made of it by a check is another schema. */
export function naming<Schema extends z.ZodType>(as: NamingOfMembers, schema: Schema): Schema {
  marks.add(schema, { as });
  return schema;
}

/** How values of a schema name members; undefined where they name none. */
export const namingOf = (schema: z.core.$ZodType): NamingOfMembers | undefined => marks.get(schema)?.as;
