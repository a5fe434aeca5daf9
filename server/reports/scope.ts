import type { Asked } from '@bold-compass/core/answers';
import { fieldLabel, fieldsOf, findField, type Dataset } from '@bold-compass/core/model';
import { listWords } from '@bold-compass/core/format';
import type { DatasetReader } from '../data/index.ts';
import { ApiError } from '../problems/index.ts';

/**
 * Checks a scope that may have been edited by hand. Throws ApiError `scope-unknown` for a field that is none, and for
 * members that do not exist or are not the reader's to see: the two are not told apart.
 */
export async function checkAsked(reader: DatasetReader, { scope, where }: Asked): Promise<void> {
  const { dataset } = reader;
  const unknown = fieldsOf(where).find((field) => !findField(dataset, field));
  if (unknown)
    throw new ApiError('scope-unknown', `The address asks for "${unknown}", which this report does not know.`, { field: unknown });
  for (const [field, values] of Object.entries(scope)) {
    if (!findField(dataset, field)) {
      throw new ApiError('scope-unknown', `The address asks for "${field}", which this report does not know.`, { field });
    }
    if (values.length === 0) continue;
    const visible = await reader.visibleMembers(field);
    const unknown = values.filter((value) => !visible.has(value));
    if (unknown.length > 0) throw new ApiError('scope-unknown', unknownWords(dataset, field, unknown), { field, values: unknown });
  }
}

function unknownWords(dataset: Dataset, field: string, unknown: string[]): string {
  const label = fieldLabel(dataset, field).toLowerCase();
  const named = listWords(
    unknown.slice(0, 3).map((value) => `“${value}”`),
    'or',
  );
  return `There is no ${label} ${named} here, or it is not among what you may see.`;
}
