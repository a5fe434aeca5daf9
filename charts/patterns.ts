import { newCanvas } from './surface.ts';
import { between, type CanvasTokens } from './tokens.ts';

/** How a tile of each pattern is drawn, in a square of `SIDE` pixels; the first is solid. */
const SIDE = 8;
type Draw = (tile: CanvasRenderingContext2D) => void;

function lines(...ends: readonly [number, number, number, number][]): Draw {
  return (tile) => {
    tile.beginPath();
    for (const [fromX, fromY, toX, toY] of ends) {
      tile.moveTo(fromX, fromY);
      tile.lineTo(toX, toY);
    }
    tile.stroke();
  };
}
// Slanting lines go on across the corners of the tile beside.
const rising = [
  [-2, 2, 2, -2],
  [-2, 10, 10, -2],
  [6, 10, 10, 6],
] as const;
const falling = [
  [-2, 6, 2, 10],
  [-2, -2, 10, 10],
  [6, -2, 10, 2],
] as const;

const PATTERNS: readonly Draw[] = [
  (tile) => tile.fillRect(0, 0, SIDE, SIDE),
  lines(...(rising as unknown as [number, number, number, number][])),
  (tile) => {
    for (const [x, y] of [
      [2, 2],
      [6, 6],
    ])
      tile.fillRect(x - 1, y - 1, 2, 2);
  },
  lines([0, 2, SIDE, 2], [0, 6, SIDE, 6]),
  lines(...([...rising, ...falling] as unknown as [number, number, number, number][])),
  lines(...(falling as unknown as [number, number, number, number][])),
  lines([2, 0, 2, SIDE], [6, 0, 6, SIDE]),
  lines([0, 4, SIDE, 4], [4, 0, 4, SIDE]),
];

/** A tile of a pattern; patterns begin anew after the last one. */
export function patternTile(index: number, ink: string, paper: string): HTMLCanvasElement {
  const tile = newCanvas();
  tile.width = SIDE;
  tile.height = SIDE;
  const context = tile.getContext('2d');
  if (!context) return tile;
  context.fillStyle = paper;
  context.fillRect(0, 0, SIDE, SIDE);
  context.fillStyle = ink;
  context.strokeStyle = ink;
  context.lineWidth = 1.4;
  PATTERNS[index % PATTERNS.length](context);
  return tile;
}

/** Which pattern says that there is no value, and how pale its lines are. */
const [NO_DATA, NO_DATA_INK] = [5, 0.68];
/** Its tile: nothing else is drawn so, in any style. */
export const noDataTile = ({ ink, paper }: Pick<CanvasTokens, 'ink' | 'paper'>): HTMLCanvasElement =>
  patternTile(NO_DATA, between(ink, paper, NO_DATA_INK), paper);

/** What fills a place that has no value. */
export const noData = (tokens: Pick<CanvasTokens, 'ink' | 'paper'>): CanvasPattern | string =>
  newCanvas().getContext('2d')?.createPattern(noDataTile(tokens), 'repeat') ?? tokens.paper;

/** A pattern to fill with. */
export const patternOf = (index: number, ink: string, paper: string): CanvasPattern | string =>
  newCanvas()
    .getContext('2d')
    ?.createPattern(patternTile(index, ink, paper), 'repeat') ?? ink;
