import { findField, findMeasure, type Dataset, type Report } from '../model/index.ts';
import { promptKindOf } from './registry.ts';
import { promptName } from './state.ts';

/** What of a report's prompts cannot be asked, in words; empty where they are sound. */
export function promptFaults({ prompts }: Pick<Report, 'prompts'>, dataset: Dataset): string[] {
  const faults: string[] = [];
  const twice = prompts.find(({ id }, index) => prompts.findIndex((one) => one.id === id) !== index);
  if (twice) faults.push(`Two prompts have the id "${twice.id}".`);
  const names = prompts.map((prompt) => promptName(prompt).toLowerCase());
  const sameName = prompts.find((prompt, index) => prompt.name !== undefined && names.indexOf(names[index]) !== index);
  if (sameName) faults.push(`Two prompts have the name "${sameName.name}".`);
  for (const prompt of prompts) {
    const kind = promptKindOf(prompt);
    const { fields, measures } = kind.names(prompt);
    const field = fields.find((name) => !findField(dataset, name));
    const measure = measures.find((name) => !findMeasure(dataset, name));
    if (field) faults.push(`A prompt asks for "${field}", and there is no such field in ${dataset.label}.`);
    else if (measure) faults.push(`A prompt offers "${measure}", and there is no such measure in ${dataset.label}.`);
    else faults.push(...(kind.faults?.(prompt, dataset) ?? []));
  }
  return faults;
}
