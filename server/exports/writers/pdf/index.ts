import { cellsIn, PAPERS, type ExportDocument, type ExportPart, type Paper, type TablePart } from '@bold-compass/core/exports';
import { counted, type ExportWriter, type WriteOptions } from '../writer.ts';
import { chartBlocks } from './chart-block.ts';
import { figuresBlock } from './figures-block.ts';
import { Flow, type Block, type Frame, type Placed } from './flow.ts';
import { COLOURS, Ink } from './ink.ts';
import { pictureBlock } from './picture-block.ts';
import { TableBlock } from './table-block.ts';
import { textBlock } from './text-block.ts';

/** In points: 15 mm around, and the room of head and foot. */
const [MARGIN, HEAD, FOOT] = [42.5, 26, 22];
/** Past so many cells tags would take more memory than there is. */
const MOST_TAGGED = 100_000;

function sizeOf({ size, orientation }: Paper): { width: number; height: number } {
  const { width, height } = PAPERS[size];
  return orientation === 'portrait' ? { width, height } : { width: height, height: width };
}

const dividerBlock = (width: number): Block => ({
  width,
  title: '',
  layout: (wide) => [{ height: 2, draw: (ink, x, y) => ink.artifact(() => ink.rule(x, y + 1, x + wide, 0.5, COLOURS.rule)) }],
});

function tableBlocks(ink: Ink, part: TablePart): Block[] {
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
    new TableBlock(ink, part.width, first, heading, others.length === 0 ? notes : [], part.sentences),
    ...others.map(
      (table, index) =>
        new TableBlock(
          ink,
          part.width,
          table,
          { title: table.caption, about: table.unit, level: 'H3' },
          index === others.length - 1 ? notes : [],
        ),
    ),
  ];
}

async function blocksOf(ink: Ink, part: ExportPart, options: WriteOptions): Promise<Block[]> {
  switch (part.kind) {
    case 'figures':
      return [figuresBlock(part)];
    case 'table':
      return tableBlocks(ink, part);
    case 'chart':
      return chartBlocks(ink, part, options);
    case 'text':
      return [textBlock(ink, part)];
    case 'picture':
      return [pictureBlock(ink, part, options.pictures[part.source])];
    case 'divider':
      return [dividerBlock(part.width)];
  }
}

/** The title of the report and what it shows, at the head of its first page. */
function titleBlock(ink: Ink, { title, subtitle, scope }: ExportDocument): Block {
  return {
    width: 12,
    title: '',
    layout(width) {
      const heading = ink.wrapped(title, 'title', 19, width);
      const lines = [
        ...(subtitle === '' ? [] : ink.wrapped(subtitle, 'serif', 10, width)),
        ...(scope === '' ? [] : ink.wrapped(scope, 'serif', 10.5, width)),
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

/** What stands at the head and foot of a page. */
function drawEdges(
  ink: Ink,
  document: ExportDocument,
  { width, height }: { width: number; height: number },
  page: number,
  of: number,
): void {
  const [left, right] = [MARGIN, width - MARGIN];
  ink.artifact(() => {
    const top = MARGIN - 18;
    ink.text(ink.fitted(page === 1 ? '' : document.title, 'sans', 7.5, right - left - 160), left, top, { face: 'bold', size: 7.5 });
    const edition = ink.fitted(document.edition, 'sans', 7.5, 150);
    ink.text(edition, right - 150, top, { size: 7.5, colour: COLOURS.quiet, align: 'right', width: 150 });
    const foot = height - MARGIN + 4;
    ink.rule(left, foot - 4, right, 0.4, COLOURS.rule);
    const who = document.access === '' ? '' : ` · For ${document.madeFor}, who sees: ${document.access}`;
    const number = `Page ${page} of ${of}`;
    ink.text(ink.fitted(`Data as of ${document.dataAsOf}${who}`, 'sans', 7.5, right - left - 90), left, foot, {
      size: 7.5,
      colour: COLOURS.quiet,
    });
    ink.text(number, right - 80, foot, { size: 7.5, colour: COLOURS.quiet, align: 'right', width: 80 });
  });
}

/** Pages with real text, tagged where there are not too many cells (PDF 1.7, ISO 32000-1; PDF/UA-1, ISO 14289-1). */
export const pdfWriter: ExportWriter = async (document, options) => {
  const cells = document.pages.reduce((sum, { parts }) => sum + parts.reduce((own, part) => own + cellsIn(part), 0), 0);
  const ink = new Ink(document, cells <= MOST_TAGGED);
  const size = sizeOf(options.paper);
  const frame: Frame = {
    ...{ x: MARGIN, y: MARGIN + HEAD - 26, width: size.width - 2 * MARGIN },
    height: size.height - 2 * MARGIN - FOOT + 14,
  };
  ink.doc.addPage({ size: [size.width, size.height], margin: 0 });
  const flow = new Flow(frame);
  for (const [index, { title, parts }] of document.pages.entries()) {
    flow.newPage();
    if (index === 0) flow.add([titleBlock(ink, document)]);
    if (title !== '') flow.add([pageTitle(title)]);
    flow.add((await Promise.all(parts.map((part) => blocksOf(ink, part, options)))).flat());
  }
  if (document.note !== '') flow.add([textBlock(ink, { width: 12, text: document.note })]);
  flow.pages.forEach((placed, index) => {
    if (index > 0) ink.doc.addPage({ size: [size.width, size.height], margin: 0 });
    drawPage(ink, placed);
    drawEdges(ink, document, size, index + 1, flow.pages.length);
    options.progress((index + 1) / flow.pages.length);
  });
  const untagged = ink.isTagged ? '' : ', without tags for screen readers since it is large';
  return { bytes: await ink.finish(), contents: `${counted(flow.pages.length, 'page', 'pages')}${untagged}` };
};

function drawPage(ink: Ink, placed: readonly Placed[]): void {
  for (const { piece, x, y, title } of placed) {
    if (title !== '') ink.doc.outline.addItem(title);
    piece.draw(ink, x, y);
  }
}
