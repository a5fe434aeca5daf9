import { describe, expect, it } from 'vitest';
import { CrosstabTooLargeError, TooManyGroupsError } from '../engine/index.ts';
import { axisOver, crosstabSchema } from '../model/index.ts';
import { workedDataset, workedStore } from '../testing/worked-example.ts';
import { AnswerError, ColumnsData, type AnswerContext } from './index.ts';
import { namingWhatIsLarge } from './too-large.ts';

const context: AnswerContext = {
  ...{ dataset: workedDataset, data: new ColumnsData(workedDataset, workedStore()), tables: new Map(), locale: 'en-GB' },
  report: () => Promise.resolve(null),
};
const exhibit = crosstabSchema.parse({
  ...{ kind: 'crosstab', id: 't', title: 'T', side: axisOver(['region', 'city']), top: axisOver(['year']), cells: [{ measure: 'net' }] },
});
const failing = (error: Error, own = exhibit): Promise<unknown> => namingWhatIsLarge(context, own, null, () => Promise.reject(error));

describe('what is too large', () => {
  it('names the field with the most members, wherever it stands, and what to do', async () => {
    await expect(failing(new CrosstabTooLargeError(12_000, 300))).rejects.toEqual(
      new AnswerError(
        'too-large',
        'This would make 12,000 rows and 300 columns: City has 4 members. Show only the top of them, choose fewer in the scope, or close or move City.',
      ),
    );
    const across = { ...exhibit, side: axisOver(['channel']), top: axisOver(['city', 'region']) };
    await expect(failing(new TooManyGroupsError(5_000), across)).rejects.toThrow(
      /^This would make more than 5,000 cells: City has 4 members/,
    );
  });
  it('says what it can where nothing can be counted, and leaves other faults alone', async () => {
    const plain = new CrosstabTooLargeError(3, 3);
    await expect(failing(plain, { ...exhibit, cells: [] })).rejects.toBe(plain);
    const other = new Error('other');
    await expect(failing(other)).rejects.toBe(other);
    await expect(namingWhatIsLarge(context, exhibit, null, () => Promise.resolve(1))).resolves.toBe(1);
  });
});
