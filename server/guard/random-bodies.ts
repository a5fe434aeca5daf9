/** Makes bodies for requests from JSON Schemas, seeded: mostly as the schema says, then spoilt somewhere. For tests. */

interface Schema {
  $ref?: string;
  type?: string | string[];
  enum?: unknown[];
  const?: unknown;
  anyOf?: Schema[];
  oneOf?: Schema[];
  allOf?: Schema[];
  properties?: Record<string, Schema>;
  required?: string[];
  items?: Schema;
  additionalProperties?: Schema | boolean;
  minimum?: number;
  maximum?: number;
}

/** Numbers from 0 to 1, the same for the same seed (mulberry32, public domain). */
export function randomFrom(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let mixed = Math.imul(state ^ (state >>> 15), state | 1);
    mixed ^= mixed + Math.imul(mixed ^ (mixed >>> 7), mixed | 61);
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 2 ** 32;
  };
}

/** What programs trip over. */
const HOSTILE: unknown[] = [
  ...[null, true, -1, 0, 1e308, -1e308, 2 ** 53, 2 ** 31, 0.1, '', ' ', '\u0000', 'a\u0000b', '\ud800', '𝄞', 'é'.repeat(300)],
  ...['__proto__', 'constructor', 'toString', "'; DROP TABLE app.people; --", '"', '$1', "$'", '%', '../../etc/passwd', '2026-02-30'],
  ...['x'.repeat(20_000), [], {}, [[[[[]]]]], [null], { op: 'and', items: [] }, { op: 'not' }, ['Atlantic'], Array(400).fill('x')],
];

export class Bodies {
  constructor(
    private readonly components: Record<string, Schema>,
    private readonly random: () => number,
    /** Words that mean something in the application: names of reports, fields, measures, members. */
    private readonly words: readonly string[],
  ) {}

  private pick<Value>(values: readonly Value[]): Value {
    return values[Math.floor(this.random() * values.length)];
  }

  text(): string {
    const choice = this.random();
    if (choice < 0.7) return this.pick(this.words);
    return String(this.pick(HOSTILE.filter((value) => typeof value === 'string')));
  }

  /** A value for a schema; one part in ten is something else. */
  value(schema: Schema, depth = 0): unknown {
    if (this.random() < 0.1) return this.pick(HOSTILE);
    if (depth > 8) return null;
    if (schema.$ref) return this.value(this.components[schema.$ref.split('/').at(-1)!] ?? {}, depth + 1);
    if ('const' in schema) return schema.const;
    if (schema.enum) return this.pick(schema.enum);
    const choices = schema.anyOf ?? schema.oneOf;
    if (choices) return this.value(this.pick(choices), depth + 1);
    if (schema.allOf) return Object.assign({}, ...schema.allOf.map((part) => this.value(part, depth + 1))) as unknown;
    const type = Array.isArray(schema.type) ? this.pick(schema.type) : schema.type;
    switch (type) {
      case 'object':
        return this.object(schema, depth);
      case 'array':
        return Array.from({ length: Math.floor(this.random() * 4) }, () => this.value(schema.items ?? {}, depth + 1));
      case 'string':
        return this.text();
      case 'integer':
        return this.random() < 0.8 ? Math.floor(this.random() * 50) : this.pick([-1, 2 ** 31, 2 ** 53, schema.maximum ?? 7]);
      case 'number':
        return this.random() < 0.8 ? this.random() * 100 : this.pick([-1, 1e300, Number.MIN_VALUE]);
      case 'boolean':
        return this.random() < 0.5;
      case 'null':
        return null;
      default:
        return this.pick([this.text(), Math.floor(this.random() * 10), null, [], {}]);
    }
  }

  private object({ properties = {}, required = [], additionalProperties }: Schema, depth: number): Record<string, unknown> {
    const made: Record<string, unknown> = {};
    for (const [name, own] of Object.entries(properties)) {
      if (required.includes(name) ? this.random() < 0.97 : this.random() < 0.6) made[name] = this.value(own, depth + 1);
    }
    if (typeof additionalProperties === 'object' && this.random() < 0.7) made[this.text()] = this.value(additionalProperties, depth + 1);
    return made;
  }

  /** A document with one part replaced by something else, taken away, or doubled. */
  mutated<Document>(document: Document): unknown {
    const copy = structuredClone(document) as unknown;
    const places: { holder: Record<string, unknown> | unknown[]; key: string | number }[] = [];
    const visit = (part: unknown): void => {
      if (typeof part !== 'object' || part === null) return;
      for (const key of Object.keys(part)) {
        places.push({ holder: part as Record<string, unknown>, key: Array.isArray(part) ? Number(key) : key });
        visit((part as Record<string, unknown>)[key]);
      }
    };
    visit(copy);
    for (let times = 1 + Math.floor(this.random() * 3); times > 0; times--) {
      const { holder, key } = this.pick(places);
      const choice = this.random();
      if (choice < 0.2 && Array.isArray(holder)) holder.push(structuredClone(holder[Number(key)]));
      else if (choice < 0.4) delete (holder as Record<string, unknown>)[key];
      else if (choice < 0.7) (holder as Record<string, unknown>)[key] = this.pick(this.words);
      else (holder as Record<string, unknown>)[key] = structuredClone(this.pick(HOSTILE));
    }
    return copy;
  }
}
