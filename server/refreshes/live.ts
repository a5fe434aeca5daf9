import { bindParameters } from '@bold-compass/core/written';
import { parameterValues, withoutEnd, type Connections } from '../connections/index.ts';
import type { FindLiveSource } from '../data/index.ts';
import { sqlState } from '../database/index.ts';
import { ApiError } from '../problems/index.ts';
import type { SourceRegistry } from '../sources/index.ts';
import { identifier } from '../sql/index.ts';

/** How live sources are asked: their query under its physical names, in a read-only transaction at their connection. */
export function liveSources(sources: SourceRegistry, connections: Connections): FindLiveSource {
  return async (name) => {
    const { origin, columns, label } = await sources.find(name);
    if (origin.kind !== 'sql') throw new ApiError('not-found', `${label} came from a file, so there is no database to ask.`);
    const { text, parameters } = origin;
    const names = columns.map(({ from, column }) => `${identifier(from)} AS ${identifier(column)}`);
    return {
      relation(chosen, prompts) {
        const filled = parameters.map((parameter) => {
          const column = columns.find(({ from }) => from === parameter.filledBy);
          const members = column && chosen(column.column);
          const prompt = parameter.filledBy === undefined ? prompts[parameter.name] : undefined;
          if (!members) return prompt?.value == null ? parameter : { ...parameter, value: String(prompt.value) };
          if (members.length !== 1) throw new ApiError('bad-request', `${label} is asked for one ${column.label} at a time: choose one.`);
          return { ...parameter, value: String(members[0]) };
        });
        const bound = bindParameters(text, filled);
        const sql = `SELECT ${names.join(', ')} FROM (\n${withoutEnd(bound.text)}\n) AS written`;
        return { sql, values: parameterValues(bound, filled) };
      },
      ask: async (question) => {
        try {
          return await connections.ask(origin.connection, question);
        } catch (error) {
          if (sqlState(error) === undefined) throw error;
          const { message } = error as Error;
          throw new ApiError(
            'query-invalid',
            `The records of ${label} could not be asked for: ${message}. An analyst finds the query under Data.`,
          );
        }
      },
    };
  };
}
