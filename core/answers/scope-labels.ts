import type { ScopeLabels } from '../api/index.ts';
import { fieldPlace, type Dataset, type Scope } from '../model/index.ts';
import { labelsFor, type AnswerContext } from './context.ts';

/** Whether the members of a field are called otherwise than by their keys. */
function hasLabels(dataset: Dataset, field: string): boolean {
  const place = fieldPlace(dataset, field);
  return place.kind === 'level' && place.level.labelColumn !== undefined;
}

/** The words for chosen members whose key is not what they are called. Throws UnknownNameError. */
export async function scopeLabels(context: AnswerContext, scope: Scope): Promise<ScopeLabels> {
  const fields = Object.keys(scope).filter((field) => hasLabels(context.dataset, field));
  const label = await labelsFor(context, fields);
  return Object.fromEntries(
    fields.map((field) => [field, Object.fromEntries(scope[field].map((member) => [member, label(field, member)]))]),
  );
}
