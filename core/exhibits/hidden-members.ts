import { z } from 'zod';
import { parsePathKey, readPath } from '../crosstab/index.ts';
import { chartSchema, exhibitSchema, namingOf, type Exhibit, type NamingOfMembers } from '../model/index.ts';
import { kindOf } from './registry.ts';

type Path = readonly (string | null)[];
/** Whether every member of a path along some fields is one that a reader may see. */
export type IsVisiblePath = (fields: readonly string[], path: Path) => Promise<boolean>;

/** What a reader may see. */
export interface Sight {
  /** Whether a value of a field is one of theirs; so is every value of a field that names no members. */
  value(field: string, value: unknown): Promise<boolean>;
  path: IsVisiblePath;
}

/** Where in a document the walk is. */
interface Place {
  sight: Sight;
  /** Fields along the axes that paths lead along. */
  axes: readonly (readonly string[])[];
  /** The exhibit that all of this is a part of. */
  exhibit?: Exhibit;
  /** The level that these are the settings of. */
  level?: string;
  /** The object that the value is a part of. */
  owner: Readonly<Record<string, unknown>>;
}

/** Stands for what is left out of the list that it is in. */
const NOTHING = Symbol('nothing');
/** Stands for a member that does not exist: fields that do not name members let it pass. */
const NOBODY = '\u0000';

const texts = z.array(z.string());
const chartPart = chartSchema.pick({ chart: true, cells: true, top: true, side: true });

async function kept<Item>(items: readonly Item[], isKept: (item: Item) => Promise<boolean>): Promise<Item[]> {
  const verdicts = await Promise.all(items.map(isKept));
  return items.filter((_, index) => verdicts[index]);
}

/** Whether a path leads along one of the axes to what may be seen. */
async function isSeenPlace(path: Path, { axes, sight }: Place): Promise<boolean> {
  for (const fields of axes) if (await sight.path(fields, path)) return true;
  return path.length === 0;
}

/** A member that an order by hand of a whole axis names: of one of its fields that name members. */
async function isSeenOnSomeAxis(member: string, { axes, sight }: Place): Promise<boolean> {
  let namesMembers = false;
  for (const field of axes.flat()) {
    if (await sight.value(field, NOBODY)) continue;
    namesMembers = true;
    if (await sight.value(field, member)) return true;
  }
  return !namesMembers;
}

const fieldOf = ({ owner }: Place): string => z.string().catch('').parse(owner.field);

/** What is left of a value that names members, by how it names them. */
const LEFT: Record<NamingOfMembers, (value: unknown, place: Place, schema: z.core.$ZodType) => Promise<unknown>> = {
  value: async (value, place) => ((await place.sight.value(fieldOf(place), value)) ? value : ''),
  values: (value, place) => kept(z.array(z.unknown()).parse(value), (one) => place.sight.value(fieldOf(place), one)),
  members: (value, place) =>
    kept(texts.parse(value), (one) => (place.level === undefined ? isSeenOnSomeAxis(one, place) : place.sight.value(place.level, one))),
  async levels(value, place, schema) {
    const settings = await Promise.all(
      Object.entries(z.record(z.string(), z.unknown()).parse(value)).map(async ([level, own]) => [
        level,
        await left(valueSchemaOf(schema), own, { ...place, level }),
      ]),
    );
    return Object.fromEntries(settings) as unknown;
  },
  async 'by field'(value, { sight }) {
    const members = await Promise.all(
      Object.entries(z.record(z.string(), texts).parse(value)).map(async ([field, own]) => [
        field,
        await kept(own, (one) => sight.value(field, one)),
      ]),
    );
    return Object.fromEntries(members) as unknown;
  },
  async place(value, place) {
    return (await isSeenPlace(texts.parse(value), place)) ? value : [];
  },
  paths: (value, { owner, sight }) => kept(z.array(texts).parse(value), (path) => sight.path(texts.parse(owner.fields), path)),
  async branch(value, place) {
    const { path } = z.object({ path: z.array(z.string().nullable()) }).parse(value);
    return (await isSeenPlace(path, place)) ? value : NOTHING;
  },
  async point(value, { sight, exhibit }) {
    const { side, top } = chartPart.parse(exhibit);
    const point = z.object({ side: z.array(z.string().nullable()), top: z.array(z.string().nullable()) }).parse(value);
    const isSeen = (await sight.path(side.fields, readPath(point.side))) && (await sight.path(top.fields, readPath(point.top)));
    return isSeen ? value : NOTHING;
  },
  async series(value, { sight, exhibit }) {
    const { cells, top, chart } = chartPart.parse(exhibit);
    // The period that a series is shown in is no part of its key.
    const fields = chart.through ? top.fields.slice(1) : top.fields;
    const seen = await kept(Object.entries(z.record(z.string(), z.unknown()).parse(value)), async ([key]) => {
      const cell = cells.find(({ measure }) => key === measure || key.startsWith(`${measure} `));
      return cell !== undefined && (await sight.path(fields, parsePathKey(key.slice(cell.measure.length + 1))));
    });
    return Object.fromEntries(seen) as unknown;
  },
};

const valueSchemaOf = (schema: z.core.$ZodType): z.core.$ZodType =>
  schema instanceof z.ZodRecord ? (schema.valueType as z.core.$ZodType) : z.unknown();

/** The schema of a union that a value is of. */
function optionOf(options: readonly z.core.$ZodType[], value: unknown): z.core.$ZodType {
  const option = options.find((one) => z.core.safeParse(one, value).success);
  if (!option) throw new TypeError('A part of a document is of no kind that its schema knows');
  return option;
}

async function left(schema: z.core.$ZodType, value: unknown, place: Place): Promise<unknown> {
  if (value === undefined || value === null) return value;
  const as = namingOf(schema);
  if (as) return LEFT[as](value, place, schema);
  if (
    schema instanceof z.ZodOptional ||
    schema instanceof z.ZodNullable ||
    schema instanceof z.ZodDefault ||
    schema instanceof z.ZodPrefault
  )
    return left(schema.unwrap() as z.core.$ZodType, value, place);
  if (schema instanceof z.ZodLazy) return left(schema.unwrap() as z.core.$ZodType, value, place);
  if (schema instanceof z.ZodUnion) return left(optionOf(schema.options as z.core.$ZodType[], value), value, place);
  if (schema instanceof z.ZodArray) {
    const items = z.array(z.unknown()).parse(value);
    const all = await Promise.all(items.map((item) => left(schema.element as z.core.$ZodType, item, place)));
    return all.filter((item) => item !== NOTHING);
  }
  if (schema instanceof z.ZodRecord) {
    const entries = Object.entries(z.record(z.string(), z.unknown()).parse(value));
    const all = await Promise.all(entries.map(async ([name, own]) => [name, await left(valueSchemaOf(schema), own, place)]));
    return Object.fromEntries(all) as unknown;
  }
  if (schema instanceof z.ZodObject) return leftOfObject(schema.shape as Readonly<Record<string, z.core.$ZodType>>, value, place);
  return value;
}

async function leftOfObject(shape: Readonly<Record<string, z.core.$ZodType>>, value: object, place: Place): Promise<object> {
  const owner = value as Readonly<Record<string, unknown>>;
  const all = await Promise.all(
    Object.keys(shape)
      .filter((name) => Object.hasOwn(owner, name))
      .map(async (name) => [name, await left(shape[name], owner[name], { ...place, owner })]),
  );
  return Object.fromEntries(all) as object;
}

/**
 * A part of a document without members that a reader may not see, wherever its schema says that members are named.
 * What the schema does not know is left out.
 */
export async function withoutHidden<Part>(schema: z.ZodType<Part>, part: Part, sight: Sight): Promise<Part> {
  return (await left(schema, part, { sight, axes: [], owner: {} })) as Part;
}

/** An exhibit without members that a reader may not see. */
export async function exhibitWithoutHidden(exhibit: Exhibit, sight: Sight): Promise<Exhibit> {
  const axes = kindOf(exhibit).axes?.(exhibit) ?? [];
  return (await left(exhibitSchema, exhibit, { sight, axes, exhibit, owner: {} })) as Exhibit;
}
