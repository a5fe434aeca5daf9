import { cellsIn, MARGINS, PAPERS, type ExportDocument, type ExportPart, type PaperPage, type TablePart } from '@bold-compass/core/exports';
import type { PageSetup } from '@bold-compass/core/model';
import { counted, type ExportWriter, type WriteOptions } from '../writer.ts';
import { chartBlocks } from './chart-block.ts';
import { figuresBlock } from './figures-block.ts';
import { Flow, type Block, type Frame, type Placed } from './flow.ts';
import { COLOURS, Ink } from './ink.ts';
import { pictureBlock } from './picture-block.ts';
import { TableBlock } from './table-block.ts';
import { textBlock } from './text-block.ts';

/** The room of the foot, in points. */
const FOOT = 22;
/** Room that head and foot need of the margin. */
const EDGE = 18;
/** Past so many cells tags would take more memory than there is. */
const MOST_TAGGED = 100_000;

function sizeOf({ size, orientation }: PageSetup): { width: number; height: number } {
  const { width, height } = PAPERS[size];
  return orientation === 'portrait' ? { width, height } : { width: height, height: width };
}

const dividerBlock = (width: number): Block => ({
  width,
  title: '',
  layout: (wide) => [{ height: 2, draw: (ink, x, y) => ink.artifact(() => ink.rule(x, y + 1, x + wide, 0.5, COLOURS.rule)) }],
});

function tableBlocks(ink: Ink, part: TablePart, setup: PageSetup): Block[] {
  const [first, ...others] = part.tables;
  const about = (unit: string): string =>
    [part.number > 0 ? `Exhibit ${part.number}` : '', part.section, unit].filter((words) => words !== '').join(' · ');
  const notes = part.note === '' ? [] : [part.note];
  if (!first) return [textBlock(ink, { width: part.width, text: [`**${part.title}**`, ...part.sentences, part.note].join('\n\n') })];
  const heading = {
    title: part.title,
    about: about([first.caption, first.unit].filter((words) => words !== '').join(', ')),
    level: 'H2' as const,
  };
  return [
    new TableBlock(ink, part.width, first, heading, setup, others.length === 0 ? notes : [], part.sentences),
    ...others.map(
      (table, index) =>
        new TableBlock(
          ink,
          part.width,
          table,
          { title: table.caption, about: table.unit, level: 'H3' },
          setup,
          index === others.length - 1 ? notes : [],
        ),
    ),
  ];
}

async function blocksOf(ink: Ink, part: ExportPart, setup: PageSetup, options: WriteOptions): Promise<Block[]> {
  switch (part.kind) {
    case 'figures':
      return [figuresBlock(part)];
    case 'table':
      return tableBlocks(ink, part, setup);
    case 'chart':
      return chartBlocks(ink, part, setup, options);
    case 'text':
      return [textBlock(ink, part)];
    case 'picture':
      return [pictureBlock(ink, part, options.pictures[part.source])];
    case 'divider':
      return [dividerBlock(part.width)];
  }
}

/** The title of the report and what it shows, at the head of its first page. */
function titleBlock(ink: Ink, { title, subtitle, scope, setup }: ExportDocument): Block {
  return {
    width: 12,
    title: '',
    layout(width) {
      const heading = ink.wrapped(title, 'title', 19, width);
      const lines = [
        ...(subtitle === '' ? [] : ink.wrapped(subtitle, 'serif', 10, width)),
        ...(scope === '' || setup.scope === 'none' ? [] : ink.wrapped(scope, 'serif', 10.5, width)),
      ];
      const height = heading.length * 24 + lines.length * 14 + 2;
      return [
        {
          height,
          draw(page, x, y) {
            heading.forEach((words, index) => page.tagged('H1', () => page.text(words, x, y + index * 24, { face: 'title', size: 19 })));
            lines.forEach((words, index) =>
              page.tagged('P', () =>
                page.text(words, x, y + heading.length * 24 + index * 14, { face: 'serif', size: 10.5, colour: COLOURS.quiet }),
              ),
            );
          },
        },
      ];
    },
  };
}

const pageTitle = (title: string): Block => ({
  width: 12,
  title,
  layout: () => [{ height: 17, draw: (ink, x, y) => ink.tagged('H2', () => ink.text(title, x, y, { face: 'title', size: 14 })) }],
});

/** Texts of a head or a foot, at its left and its right, as far as there is room for both. */
function drawEdge(ink: Ink, y: number, [from, to]: [number, number], left: { text: string; isBold?: boolean }, right: string): void {
  const room = to - from;
  const end = ink.fitted(right, 'sans', EDGE_SIZE, room / 2);
  const taken = end === '' ? 0 : ink.width(end, 'sans', EDGE_SIZE) + 12;
  ink.text(ink.fitted(left.text, left.isBold ? 'bold' : 'sans', EDGE_SIZE, room - taken), from, y, {
    size: EDGE_SIZE,
    ...(left.isBold ? { face: 'bold' } : { colour: COLOURS.quiet }),
  });
  ink.text(end, from + room / 2, y, { size: EDGE_SIZE, colour: COLOURS.quiet, align: 'right', width: room / 2 });
}
const EDGE_SIZE = 7.5;
const joined = (...words: string[]): string => words.filter((text) => text !== '').join(' · ');

/** What stands at the head and foot of a page. */
function drawEdges(
  ink: Ink,
  { setup, title, scope, edition, access, madeFor, dataAsOf }: ExportDocument,
  { width, height }: { width: number; height: number },
  page: number,
  of: number,
): void {
  const margin = MARGINS[setup.margins].points;
  const across: [number, number] = [margin, width - margin];
  const numbered = (text: string): string => text.replaceAll('{page}', String(page)).replaceAll('{pages}', String(of));
  const isFirst = page === 1;
  const who = access === '' ? '' : `For ${madeFor}, who sees: ${access}`;
  const number = { of: `Page ${page} of ${of}`, plain: String(page), none: '' }[setup.pageNumber];
  ink.artifact(() => {
    const named = setup.title && !isFirst ? title : '';
    const said = setup.scope === 'every' && !isFirst ? scope : '';
    drawEdge(ink, margin - EDGE, across, { text: joined(numbered(setup.head), named, said), isBold: true }, edition);
    const foot = height - margin + 4;
    ink.rule(across[0], foot - 4, across[1], 0.4, COLOURS.rule);
    drawEdge(ink, foot, across, { text: joined(numbered(setup.foot), setup.dataAsOf ? `Data as of ${dataAsOf}` : '', who) }, number);
  });
}

/** Pages with real text, tagged where there are not too many cells (PDF 1.7, ISO 32000-1; PDF/UA-1, ISO 14289-1). */
export const pdfWriter: ExportWriter = async (document, options) => {
  const cells = document.pages.reduce((sum, { parts }) => sum + parts.reduce((own, part) => own + cellsIn(part), 0), 0);
  const ink = new Ink(document, cells <= MOST_TAGGED);
  const { setup } = document;
  const size = sizeOf(setup);
  const margin = MARGINS[setup.margins].points;
  const frame: Frame = {
    ...{ x: margin, y: margin, width: size.width - 2 * margin },
    height: size.height - 2 * margin - FOOT + 14,
  };
  ink.doc.addPage({ size: [size.width, size.height], margin: 0 });
  const flow = new Flow(frame);
  /** The pages and sections of the report, by the page of paper that each begins on. */
  const beginnings = new Map<number, string>();
  for (const [index, { title, parts }] of document.pages.entries()) {
    flow.newPage();
    beginnings.set(flow.pages.length - 1, title);
    if (index === 0) flow.add([titleBlock(ink, document)]);
    if (title !== '') flow.add([pageTitle(title)]);
    for (const [at, together] of betweenBreaks(parts).entries()) {
      if (at > 0) flow.newPage();
      const blocks = together.map(async (part) =>
        (await blocksOf(ink, part, setup, options)).map((block) => Object.assign(block, { exhibit: part.id })),
      );
      flow.add((await Promise.all(blocks)).flat());
    }
  }
  if (document.note !== '') flow.add([textBlock(ink, { width: 12, text: document.note })]);
  flow.pages.forEach((placed, index) => {
    if (index > 0) ink.doc.addPage({ size: [size.width, size.height], margin: 0 });
    drawPage(ink, placed);
    drawEdges(ink, document, size, index + 1, flow.pages.length);
    options.progress((index + 1) / flow.pages.length);
  });
  const untagged = ink.isTagged ? '' : ', without tags for screen readers since it is large';
  const pages = flow.pages.map((placed, index): PaperPage => ({
    ...size,
    begins: beginnings.get(index) ?? null,
    parts: placedParts(placed),
  }));
  return { bytes: await ink.finish(), contents: `${counted(flow.pages.length, 'page', 'pages')}${untagged}`, pages };
};

/** The parts between page breaks that were set. */
function betweenBreaks(parts: readonly ExportPart[]): ExportPart[][] {
  const runs: ExportPart[][] = [[]];
  for (const part of parts) {
    if (part.startsPage && runs.at(-1)!.length > 0) runs.push([]);
    runs.at(-1)!.push(part);
  }
  return runs;
}

const placedParts = (placed: readonly Placed[]): PaperPage['parts'] =>
  placed.flatMap(({ piece, y, exhibit, continues }) =>
    exhibit === undefined ? [] : [{ exhibit, top: y, height: piece.height, continues }],
  );

function drawPage(ink: Ink, placed: readonly Placed[]): void {
  for (const { piece, x, y, title } of placed) {
    if (title !== '') ink.doc.outline.addItem(title);
    piece.draw(ink, x, y);
  }
}
