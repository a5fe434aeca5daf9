import { withAggregations } from '@bold-compass/core/crosstab';
import { isDataExhibit, type Crosstab, type DataExhibit, type Dataset, type Report, type Scope } from '@bold-compass/core/model';
import { createDeskMemory, Desk, type Catalogue, type DatasetHead } from '../data/index.ts';
import { ApiError } from '../problems/index.ts';
import { maySee, type Caller } from '../people/index.ts';
import { reportFaults } from './faults.ts';
import { datasetsIn, type Library, type StoredReport } from './library.ts';
import { checkScope, scopeIn } from './scope.ts';

/** What a question about a report says of the state it is in. */
export interface Asked {
  /** Whether the draft is meant, which only analysts are answered from. */
  draft: boolean;
  scope: Scope;
}

/** An exhibit, with the data it answers from and the part of the scope that this data knows. */
export interface OpenExhibit<Exhibit> {
  exhibit: Exhibit;
  desk: Desk;
  scope: Scope;
}

/** Reports together with the data they stand on, as far as a caller may see it. */
export class Reading {
  private readonly memory = createDeskMemory();

  constructor(
    private readonly library: Library,
    private readonly catalogue: Catalogue,
  ) {}

  /** A dataset as the caller may see it. Throws ApiError `not-found`. */
  async desk(caller: Caller, dataset: string): Promise<Desk> {
    await this.requireSight(caller, dataset);
    return new Desk(await this.catalogue.open(dataset), caller.rules, this.memory);
  }

  /** Until access to a dataset is decided, only its maker sees its records. Throws ApiError `not-allowed`. */
  async requireSight(caller: Caller, dataset: string): Promise<void> {
    const head = await this.catalogue.definition(dataset);
    if (!maySee(caller, head)) {
      throw new ApiError(
        'not-allowed',
        `It is not decided yet who sees ${head.dataset.label}, so only its maker does. Ask them to decide on access.`,
      );
    }
  }

  /** A report's document with the data it stands on. Throws ApiError `report-not-found`. */
  async report(caller: Caller, id: string, draft: boolean): Promise<{ stored: StoredReport; desk: Desk }> {
    const stored = await this.library.open(caller, id, draft);
    return { stored, desk: await this.desk(caller, stored.report.dataset) };
  }

  /** What every question about a report starts with. Throws ApiError `scope-unknown`, `report-not-found`. */
  async asked(caller: Caller, id: string, { draft, scope }: Asked): Promise<{ report: Report; desk: Desk }> {
    const { stored, desk } = await this.report(caller, id, draft);
    await checkScope(desk, scope);
    return { report: stored.report, desk };
  }

  /** An exhibit of a kind that a question is about. Throws ApiError `exhibit-not-found` beside those of `asked`. */
  async exhibit<Kind extends DataExhibit['kind']>(
    caller: Caller,
    place: { report: string; exhibit: string },
    { draft, scope }: Asked,
    kind: Kind,
  ): Promise<OpenExhibit<Extract<DataExhibit, { kind: Kind }>>> {
    const { report, desk } = await this.asked(caller, place.report, { draft, scope });
    const exhibit = exhibitOf(report, place.exhibit, kind);
    if (!exhibit.dataset || exhibit.dataset === report.dataset) return { exhibit, desk, scope };
    const own = await this.desk(caller, exhibit.dataset);
    return { exhibit, desk: own, scope: scopeIn(own.dataset, scope) };
  }

  /** A cross-tab, with the measures that it counts in ways of its own. */
  async crosstab(caller: Caller, place: { report: string; exhibit: string }, asked: Asked): Promise<OpenExhibit<Crosstab>> {
    const opened = await this.exhibit(caller, place, asked, 'crosstab');
    const { dataset, exhibit } = withAggregations(opened.desk.dataset, opened.exhibit);
    if (dataset === opened.desk.dataset) return opened;
    const loaded = await this.catalogue.open(dataset.name);
    return { exhibit, desk: new Desk({ ...loaded, dataset }, caller.rules, this.memory), scope: opened.scope };
  }

  /** Loads the data of every report, so that nobody waits for it after a start; what cannot be loaded says so to who asks. */
  async warm(): Promise<void> {
    for (const dataset of await this.library.datasets()) await this.catalogue.open(dataset).catch(() => undefined);
  }

  /** What is known of a dataset beside its records. Throws ApiError `not-found`. */
  head(dataset: string): Promise<DatasetHead> {
    return this.catalogue.definition(dataset);
  }

  /** What a dataset means, without its records. Throws ApiError `not-found`. */
  async definition(dataset: string): Promise<Dataset> {
    return (await this.catalogue.definition(dataset)).dataset;
  }

  /** The datasets that exhibits of a report answer from beside its own, by name. */
  async otherDatasets(report: Report): Promise<Record<string, Dataset>> {
    const names = new Set(report.exhibits.flatMap((exhibit) => (isDataExhibit(exhibit) && exhibit.dataset ? [exhibit.dataset] : [])));
    names.delete(report.dataset);
    return Object.fromEntries(await Promise.all([...names].map(async (name) => [name, await this.definition(name)] as const)));
  }

  /** All datasets of a report, by name. */
  async datasets(report: Report): Promise<Record<string, Dataset>> {
    const [own, others] = await Promise.all([this.definition(report.dataset), this.otherDatasets(report)]);
    return { ...others, [report.dataset]: own };
  }

  /** Holds a document that came from outside against its datasets. Throws ApiError `report-invalid`, `not-allowed`. */
  async checkSound(caller: Caller, report: Report): Promise<void> {
    for (const name of datasetsIn(report)) await this.requireSight(caller, name);
    const datasets = await this.datasets(report);
    const [fault] = reportFaults(report, (name) => datasets[name] ?? datasets[report.dataset]);
    if (fault) throw new ApiError('report-invalid', fault);
  }
}

function exhibitOf<Kind extends DataExhibit['kind']>(report: Report, id: string, kind: Kind): Extract<DataExhibit, { kind: Kind }> {
  const found = report.exhibits.find((exhibit) => exhibit.id === id && exhibit.kind === kind);
  if (!found)
    throw new ApiError('exhibit-not-found', 'This report has no such exhibit any more. Reload the page to see the newest edition.');
  return found as Extract<DataExhibit, { kind: Kind }>;
}
