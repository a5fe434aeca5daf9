import type { VarianceResponse } from '../api/index.ts';
import { allOf, fieldLabel, fieldPlural, measureNamed, type Filter, type Variance } from '../model/index.ts';
import {
  changeSentence,
  contributionsOf,
  effectsOf,
  effectsSentence,
  moversSentence,
  type Contributions,
  type Effects,
} from '../variance/index.ts';
import { cubeFor, measuresUnder, plainCrosstab, withBack } from './cells.ts';
import { labelsFor, type AnswerContext } from './context.ts';
import { orNull } from './numbers.ts';

interface MemberValues {
  member: string | null;
  values: (number | null)[];
}

/** Values of some measures for each member of a field. */
async function membersOf(context: AnswerContext, field: string, measures: string[], filter: Filter | null): Promise<MemberValues[]> {
  const cube = await cubeFor(context, plainCrosstab(measures, [field]), filter, { side: 1, top: 0 });
  return cube.side.nodes[0].children
    .map((id) => ({ member: cube.side.nodes[id].member, values: measures.map((measure) => orNull(cube.value(measure, id, 0))) }))
    .filter(({ values }) => values.some((value) => value !== null));
}

/** What rounding of binary fractions leaves, as a share. */
const ROUNDING = 1e-6;

/** Whether the differences of members add up to the difference of the whole: shares and averages do not. */
function addsUp({ named, others }: Contributions<string | null>, whole: number): boolean {
  const sum = named.reduce((total, { change }) => total + change, others?.change ?? 0);
  const size = named.reduce((total, { change }) => total + Math.abs(change), 0);
  return Math.abs(sum - whole) <= ROUNDING * Math.max(size, Math.abs(whole), 1);
}

async function effectsIn(context: AnswerContext, exhibit: Variance, earlier: string, filter: Filter | null): Promise<Effects | null> {
  if (!exhibit.effects) return null;
  const { quantity, field } = exhibit.effects;
  const moved = withBack(context.dataset, quantity, exhibit.back);
  const own = { ...context, dataset: moved.dataset };
  const members = await membersOf(own, field, [exhibit.measure, earlier, quantity, moved.name], filter);
  return effectsOf(
    members.map(({ values: [after, before, sold, soldBefore] }) => ({
      before: { value: before ?? 0, quantity: soldBefore ?? 0 },
      after: { value: after ?? 0, quantity: sold ?? 0 },
    })),
  );
}

/** What changed between the dates of the scope and those some periods back, field by field, the most telling field first. */
export async function varianceOf(asked: AnswerContext, exhibit: Variance, scope: Filter | null): Promise<VarianceResponse> {
  const { measure, back, fields, most } = exhibit;
  const { dataset, name: earlier } = withBack(asked.dataset, measure, back);
  const context = { ...asked, dataset };
  const filter = allOf(scope, exhibit.filter);
  const whole = await measuresUnder(context, [measure, earlier], filter);
  const [after, before] = [measure, earlier].map((name) => orNull(whole.get(name)?.value ?? Number.NaN));
  const label = await labelsFor(context, fields);
  const change = (after ?? 0) - (before ?? 0);
  const looked = await Promise.all(
    fields.map(async (field) => {
      const members = await membersOf(context, field, [measure, earlier], filter);
      const found = contributionsOf(
        members.map(({ member, values: [now, then] }) => ({ member, after: now, before: then })),
        most,
      );
      const named = found.named.map(({ member, ...values }) => ({ ...values, path: [member], label: label(field, member) }));
      return {
        ...{ field, label: fieldLabel(dataset, field), plural: fieldPlural(dataset, field), named, others: found.others },
        ...{ addsUp: addsUp(found, change), concentration: found.concentration },
      };
    }),
  );
  const told = { format: measureNamed(dataset, measure).format, locale: context.locale };
  // A measure that does not know a field has no members there.
  const sorted = looked.filter(({ named }) => named.length > 0).sort((a, b) => b.concentration - a.concentration);
  const effects = await effectsIn(context, exhibit, earlier, filter);
  const than = `${back.amount === 1 ? `a ${back.unit}` : `${back.amount} ${back.unit}s`} before`;
  return {
    ...{ before, after, effects },
    fields: sorted.map((own) => ({
      ...own,
      sentence: moversSentence(own.named, told),
    })),
    sentences: [
      changeSentence({ ...told, label: measureNamed(dataset, measure).label, before, after, than }),
      ...(effects ? [effectsSentence(effects, told)] : []),
    ].filter((sentence) => sentence !== ''),
  };
}
