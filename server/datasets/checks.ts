import type { Finding } from '@bold-compass/core/api';
import { linkTo, type Dataset, type Fact, type TableDimension } from '@bold-compass/core/model';
import type { AnyClient } from '../database/index.ts';
import { identifier, registered, tableOf } from '../sql/index.ts';
import type { FormulaFindings } from './formula-findings.ts';

const EXAMPLES = 10;
const number = new Intl.NumberFormat('en-GB');

interface Counted {
  n: number;
  examples: string[] | null;
}

async function count(client: AnyClient, rows: string): Promise<{ n: number; examples: string[] }> {
  const { rows: found } = await client.query<Counted>(
    `SELECT count(*)::int AS n, (array_agg(example ORDER BY example))[1:${EXAMPLES}] AS examples FROM (${rows}) AS found`,
  );
  return { n: found[0].n, examples: found[0].examples ?? [] };
}

/**
 * Looks at the data behind a definition: what joins do, whether hierarchies hold. `formulas` is what was found of its formulas:
 * fields that cannot be calculated are left out, so that the rest can be looked at.
 */
export async function checkDataset(client: AnyClient, definition: Dataset, formulas: FormulaFindings): Promise<Finding[]> {
  const findings = [...formulas.fields.map(({ finding }) => finding)];
  const dataset = withoutFields(definition, formulas.fields);
  for (const dimension of dataset.dimensions) {
    if (dimension.kind !== 'table') continue;
    findings.push(...(await checkKey(client, dimension)));
    findings.push(...(dimension.tree ? await checkTree(client, dataset, dimension) : await checkHierarchy(client, dataset, dimension)));
    for (const fact of dataset.facts) {
      const finding = await checkLink(client, dataset, fact, dimension);
      if (finding) findings.push(finding);
    }
  }
  return [...findings, ...formulas.measures];
}

/** A definition without the calculated fields that were refused. */
function withoutFields(dataset: Dataset, refused: FormulaFindings['fields']): Dataset {
  const isRefused = (fact: Fact, field: string): boolean => refused.some((one) => one.fact === fact.name && one.field === field);
  return {
    ...dataset,
    facts: dataset.facts.map((fact) => ({ ...fact, fields: fact.fields.filter(({ name }) => !isRefused(fact, name)) })),
  };
}

/** A key that two rows have would count the records of each twice. */
async function checkKey(client: AnyClient, dimension: TableDimension): Promise<Finding[]> {
  const key = identifier(dimension.key);
  const table = registered(dimension.table);
  const { n, examples } = await count(
    client,
    `SELECT ${key}::text AS example FROM ${table} WHERE ${key} IS NOT NULL GROUP BY 1 HAVING count(*) > 1`,
  );
  if (n === 0) return [];
  const words = `${number.format(n)} ${n === 1 ? 'key stands' : 'keys stand'} in several rows of ${dimension.label}: every record of theirs would be counted more than once. Choose a key that each row has once.`;
  return [{ kind: 'refused', about: { dimension: dimension.name }, words, examples }];
}

/** Members of a level below several members of the level above: their totals would be split. */
async function checkHierarchy(client: AnyClient, dataset: Dataset, dimension: TableDimension): Promise<Finding[]> {
  const findings: Finding[] = [];
  for (const [depth, level] of dimension.levels.entries()) {
    const above = dimension.levels[depth - 1];
    if (!above) continue;
    const [own, parent] = [identifier(level.column), identifier(above.column)];
    const { n, examples } = await count(
      client,
      `SELECT ${own}::text || ' in ' || string_agg(DISTINCT ${parent}::text, ', ') AS example FROM ${tableOf(dataset, dimension)} AS t
       WHERE ${own} IS NOT NULL GROUP BY ${own} HAVING count(DISTINCT ${parent}) > 1`,
    );
    if (n === 0) continue;
    findings.push({
      kind: 'notice',
      about: { dimension: dimension.name, level: level.name },
      words: `${number.format(n)} ${n === 1 ? 'member' : 'members'} of ${level.label} ${n === 1 ? 'is' : 'are'} below several members of ${above.label}. Each is shown below each; alone, the level adds them up. Tell them with their parent to make them several.`,
      examples,
    });
  }
  if (findings.length > 0 || dimension.levels.length < 2) return findings;
  const words = `Each member of ${dimension.label} is below one member of the level above.`;
  return [{ kind: 'fine', about: { dimension: dimension.name }, words, examples: [] }];
}

/** Rings and rows whose parent is nowhere, in a parent–child table; and how deep it goes. */
async function checkTree(client: AnyClient, dataset: Dataset, dimension: TableDimension): Promise<Finding[]> {
  const { parent, label } = dimension.tree!;
  const [key, above, words] = [dimension.key, parent, label].map(identifier);
  const table = registered(dimension.table);
  const about = { dimension: dimension.name };
  const lost = await count(
    client,
    `SELECT c.${words}::text AS example FROM ${table} AS c WHERE NOT EXISTS (SELECT FROM ${tableOf(dataset, dimension)} AS t WHERE t.${key} = c.${key})`,
  );
  const orphans = await count(
    client,
    `SELECT c.${words}::text AS example FROM ${table} AS c WHERE c.${above} IS NOT NULL AND NOT EXISTS (SELECT FROM ${table} AS p WHERE p.${key} = c.${above})`,
  );
  const deeper = await count(
    client,
    `SELECT t.${words}::text AS example FROM ${tableOf(dataset, dimension)} AS t WHERE cardinality(t.way) > ${dimension.levels.length}`,
  );
  const findings: Finding[] = [];
  if (lost.n > 0) {
    const words = `${number.format(lost.n)} rows of ${dimension.label} are above themselves, in a ring, so they belong nowhere and their records have no member. Mend the parents of one of them.`;
    findings.push({ kind: 'refused', about, words, examples: lost.examples });
  }
  if (orphans.n > 0) {
    const words = `${number.format(orphans.n)} rows of ${dimension.label} have a parent that is nowhere: they stand at the top.`;
    findings.push({ kind: 'notice', about, words, examples: orphans.examples });
  }
  if (deeper.n > 0) {
    const words = `${dimension.label} goes deeper than its ${dimension.levels.length} levels: ${number.format(deeper.n)} members are counted at the last one. Add a level.`;
    findings.push({ kind: 'notice', about, words, examples: deeper.examples });
  }
  if (findings.length > 0) return findings;
  return [{ kind: 'fine', about, words: `${dimension.label} is one tree without rings or lost rows.`, examples: [] }];
}

/** Records that name no row of a dimension: how many, which, and what becomes of them. */
async function checkLink(client: AnyClient, dataset: Dataset, fact: Fact, dimension: TableDimension): Promise<Finding | null> {
  const link = linkTo(fact, dimension);
  if (!link) return null;
  const level = dimension.levels.find(({ name }) => name === link.level);
  const key = identifier(level?.column ?? dimension.key);
  const column = `f.${identifier(link.column)}`;
  const { rows } = await client.query<{ all: number; none: number; lost: number; examples: { named: string; n: number }[] }>(
    // The records are read once and counted by what they name: there are far fewer names than records.
    `WITH counted AS (SELECT ${column}::text AS named, count(*)::int AS n FROM ${tableOf(dataset, fact)} AS f GROUP BY ${column}),
     orphans AS (SELECT named, n FROM counted
       WHERE named IS NOT NULL AND NOT EXISTS (SELECT FROM ${tableOf(dataset, dimension)} AS d WHERE d.${key}::text = named))
     SELECT (SELECT coalesce(sum(n), 0)::int FROM counted) AS all,
       (SELECT coalesce(sum(n), 0)::int FROM counted WHERE named IS NULL) AS none,
       (SELECT coalesce(sum(n), 0)::int FROM orphans) AS lost,
       (SELECT coalesce(jsonb_agg(o), '[]') FROM (SELECT named, n FROM orphans ORDER BY n DESC, named LIMIT ${EXAMPLES}) AS o) AS examples`,
  );
  const [{ all, none, lost, examples }] = rows;
  const about = { fact: fact.name, dimension: dimension.name };
  const many = `Many ${fact.record.many} to one of ${level?.plural ?? dimension.levels.at(-1)!.plural}`;
  const missing = none > 0 ? ` ${number.format(none)} of ${number.format(all)} name none.` : '';
  if (lost === 0) return { kind: 'fine', about, words: `${many}; every one that is named is there.${missing}`, examples: [] };
  return {
    kind: 'notice',
    about,
    words: `${many}. ${number.format(lost)} of ${number.format(all)} ${fact.record.many} name one that ${dimension.label} does not have; they are counted under “No ${dimension.levels[0].label.toLowerCase()}”.${missing}`,
    examples: examples.map(({ named, n }) => `${named} (${number.format(n)})`),
  };
}
