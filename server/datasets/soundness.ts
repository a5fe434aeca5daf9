import type { Finding } from '@bold-compass/core/api';
import type { Dataset, Fact, Field, Level, TableDimension } from '@bold-compass/core/model';
import type { SourceRow } from '../sources/index.ts';

const number = new Intl.NumberFormat('en-GB');

/** The physical columns that a fact or a dimension reads, with what reads each. */
function columnsRead(part: Fact | TableDimension): { column: string; label: string }[] {
  const own = ({ column, label }: Pick<Field, 'column' | 'label'>): { column: string; label: string } => ({ column, label });
  if ('fields' in part) {
    return [
      ...part.fields.filter(({ formula }) => !formula).map(own),
      ...part.links.map(({ column, dimension }) => ({ column, label: `the link to ${dimension}` })),
    ];
  }
  const levels = part.levels.flatMap((level: Level) => [
    // The columns of a tree, and of levels that are labelled with their parent, are calculated.
    ...(part.tree ? [] : [{ column: level.within ?? level.column, label: level.label }]),
    ...(level.labelColumn && !part.tree ? [{ column: level.labelColumn, label: `the labels of ${level.label}` }] : []),
  ]);
  const tree = part.tree
    ? [
        { column: part.tree.parent, label: 'the parents' },
        { column: part.tree.label, label: 'the labels' },
      ]
    : [];
  return [{ column: part.key, label: 'the key' }, ...levels, ...tree, ...part.attributes.map(own)];
}

/**
 * What of a definition is not in the registry: tables that no import or refresh made, and columns that a table does not
 * have. Nothing else of the definition may be asked for while there is any.
 */
export function registryFindings(definition: Dataset, sources: ReadonlyMap<string, SourceRow>): Finding[] {
  const dimensions = definition.dimensions.filter((dimension): dimension is TableDimension => dimension.kind === 'table');
  return [...definition.facts, ...dimensions].flatMap((part): Finding[] => {
    const about = 'fields' in part ? { fact: part.name } : { dimension: part.name };
    const source = sources.get(part.table);
    const isLive = 'fields' in part && part.live === true;
    if (!source || source.live !== isLive) {
      const words = `${part.label} reads the table “${part.table}”, which is not among the imported ones. Choose one that is, or remove ${part.label}.`;
      return [{ kind: 'refused', about, words, examples: [] }];
    }
    const there = new Set(source.columns.map(({ column }) => column));
    const missing = columnsRead(part).filter(({ column }) => !there.has(column));
    if (missing.length === 0) return [];
    const examples = missing.map(({ column, label }) => `${column} (${label})`);
    const words = `${number.format(missing.length)} ${missing.length === 1 ? 'column' : 'columns'} of ${part.label} ${missing.length === 1 ? 'is' : 'are'} not in ${source.label}: ${examples.slice(0, 3).join(', ')}. Choose others, or remove what reads them.`;
    return [{ kind: 'refused', about, words, examples }];
  });
}
