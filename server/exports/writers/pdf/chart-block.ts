import type { PageSetup } from '@bold-compass/core/model';
import {
  chartHeight,
  drawingOf,
  drawOn,
  isForPaper,
  inStyle,
  isNamedAtEnds,
  newChart,
  PAPER_TOKENS,
  withoutColours,
  type DrawChart,
} from '@bold-compass/charts';
import { axisDrawing, chartWords, figureUnits, type ChartFigure } from '@bold-compass/core/chart';
import type { ChartPart } from '@bold-compass/core/exports';
import { parseShapes, type Shapes } from '@bold-compass/core/shapes';
import type { WriteOptions } from '../writer.ts';
import { CanvasContext, SvgPath } from './canvas-context.ts';
import type { Block, Piece } from './flow.ts';
import { COLOURS, type Ink } from './ink.ts';
import { TableBlock } from './table-block.ts';

/** Points of the page for a pixel of the screen: letters come out as large as those beside the chart. */
const SCALE = 0.7;
/** In pixels. */
const [PANEL_HEIGHT, PANEL_WIDTH, CAPTION] = [170, 300, 18];
const [TITLE, LEGEND, NOTE] = [22, 14, 10.5];
/** As much of its height is left of a chart at least. */
const LOWEST = 0.7;

/** What a library of charts takes for a canvas. */
function canvasOn(context: CanvasContext, width: number, height: number): HTMLCanvasElement {
  const canvas = { width, height, style: {}, getContext: () => context, getAttribute: () => null, setAttribute: () => undefined };
  context.canvas = canvas;
  return canvas as unknown as HTMLCanvasElement;
}

/** A figure as the library draws it, at a place of the page. */
function drawFigure(
  ink: Ink,
  draw: DrawChart,
  part: ChartPart,
  figure: ChartFigure,
  at: { x: number; y: number; width: number; height: number },
): void {
  const { settings } = part.shown;
  const [width, height] = [at.width / SCALE, at.height / SCALE];
  const tokens = settings.style === 'monochrome' ? withoutColours(PAPER_TOKENS) : PAPER_TOKENS;
  const drawn = {
    ...{ figure, settings, tokens, measures: part.measures, width, height, warns: part.warns },
    ...{ chosen: null, view: { zoom: 1, centre: null } },
  };
  const { config } = inStyle(drawn, draw(drawn), false);
  const context = new CanvasContext(ink);
  const options = { ...config.options, animation: false, responsive: false, devicePixelRatio: 1, events: [] };
  const chart = newChart(canvasOn(context, width, height), { ...(config as object), options });
  const { doc } = ink;
  doc.save();
  doc.rect(at.x, at.y, at.width, at.height).clip();
  doc.translate(at.x, at.y).scale(SCALE);
  context.draws = true;
  chart.draw();
  context.draws = false;
  doc.restore();
  chart.destroy();
}

/** Shapes of the report's own, as they came with it. Rejects where they cannot be read. */
function shapesOf({ pictures }: WriteOptions, id: string): Promise<Shapes> {
  const file = Object.entries(pictures).find(([source]) => source.includes(id))?.[1];
  const read = file ? parseShapes(Buffer.from(file.bytes).toString('utf8')) : { problem: 'The shapes of this map are missing.' };
  return 'problem' in read ? Promise.reject(new Error(read.problem)) : Promise.resolve(read.shapes);
}

let isPrepared = false;
/** The library measures and draws on pages from now on. */
function prepare(ink: Ink): void {
  if (isPrepared) return;
  isPrepared = true;
  drawOn({ canvas: () => canvasOn(new CanvasContext(ink), 300, 150), keepsPictures: false });
  (globalThis as { Path2D?: unknown }).Path2D ??= SvgPath;
}

/** A chart with its title, the names of its series, and what is said below it. */
export async function chartBlocks(ink: Ink, part: ChartPart, setup: PageSetup, options: WriteOptions): Promise<Block[]> {
  prepare(ink);
  const { shown, title, section, number, note, notes } = part;
  const { figure, settings, panels } = shown;
  const about = [number > 0 ? `Exhibit ${number}` : '', section, figureUnits(figure)].filter((words) => words !== '').join(' · ');
  if (!isForPaper(figure.kind)) {
    const below = [...notes, ...(note === '' ? [] : [note])];
    return [new TableBlock(ink, part.width, part.table, { title, about, level: 'H2' }, setup, below)];
  }
  const draw = await drawingOf(figure.kind, {
    map: settings.map,
    shapes: (id) => shapesOf(options, id),
    hasTiles: () => Promise.resolve(false),
  });
  const legend = figure.series.length > 0 && isNamedAtEnds(axisDrawing(figure).series, settings) ? [] : part.legend;
  return [
    {
      width: part.width,
      title,
      layout(width, room): Piece[] {
        const below = [...notes, ...(note === '' ? [] : [note])].flatMap((words) => ink.wrapped(words, 'sans', 7.5, width));
        const names = legendLines(ink, legend, width);
        const around = TITLE + names.length * LEGEND + below.length * NOTE + (below.length > 0 ? 4 : 0);
        const across = panels ? Math.max(1, Math.floor(width / SCALE / PANEL_WIDTH)) : 1;
        const rows = panels ? Math.ceil(panels.length / across) : 1;
        const each = panels ? PANEL_HEIGHT + CAPTION : chartHeight(figure, part.height, legend.length > 0);
        const natural = Math.min(rows * each * SCALE, room.next - around);
        // A chart that is a little too high for what is left of a page is drawn lower.
        const left = room.first - around;
        const high = left < natural && left >= natural * LOWEST ? left : natural;
        return [
          {
            height: around + high,
            draw(page, x, y) {
              page.artifact(() => page.rule(x, y, x + width, 1.2));
              page.tagged('H2', () => page.text(page.fitted(title, 'title', 11.5, width), x, y + 4, { face: 'title', size: 11.5 }));
              const after = x + page.width(title, 'title', 11.5) + 8;
              page.artifact(() =>
                page.text(page.fitted(about, 'sans', 7.5, x + width - after), after, y + 8, { size: 7.5, colour: COLOURS.quiet }),
              );
              let top = y + TITLE;
              page.artifact(() => {
                for (const line of names) {
                  for (const { label, left, colour } of line) {
                    page.doc.rect(x + left, top + 3, 7, 7).fill(colour);
                    page.text(label, x + left + 11, top + 1.5, { size: 8 });
                  }
                  top += LEGEND;
                }
              });
              const drawn = (): void => {
                if (!panels) return drawFigure(page, draw, part, figure, { x, y: top, width, height: high });
                const [wide, tall] = [width / across, high / rows];
                panels.forEach((panel, index) => {
                  const place = { x: x + (index % across) * wide, y: top + Math.floor(index / across) * tall };
                  page.text(page.fitted(panel.label, 'bold', 8, wide - 8), place.x, place.y, { face: 'bold', size: 8 });
                  const own = { x: place.x, y: place.y + CAPTION * SCALE, width: wide - 10, height: tall - CAPTION * SCALE - 4 };
                  drawFigure(page, draw, part, panel.figure, own);
                });
              };
              page.tagged('Figure', drawn, { ...{ alt: part.words || chartWords(figure), bbox: [x, top, x + width, top + high] } });
              top += high + 4;
              for (const words of below) {
                page.tagged('P', () => page.text(words, x, top, { size: 7.5, colour: COLOURS.quiet }));
                top += NOTE;
              }
            },
          },
        ];
      },
    },
  ];
}

/** The names of series in lines, each with its place and its colour. */
function legendLines(ink: Ink, legend: ChartPart['legend'], width: number): { label: string; left: number; colour: string }[][] {
  const lines: { label: string; left: number; colour: string }[][] = [];
  let left = Infinity;
  for (const { label, colour } of legend) {
    const own = ink.fitted(label, 'sans', 8, width - 12);
    const wide = ink.width(own, 'sans', 8) + 26;
    if (left + wide - 14 > width) {
      lines.push([]);
      left = 0;
    }
    const rgb = (PAPER_TOKENS.series[colour] ?? PAPER_TOKENS.ink).match(/\d+/g)!.map(Number);
    lines.at(-1)!.push({ label: own, left, colour: `#${rgb.map((part) => part.toString(16).padStart(2, '0')).join('')}` });
    left += wide;
  }
  return lines;
}
