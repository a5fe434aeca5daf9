import dagre from '@dagrejs/dagre';
import type { Dataset, Dimension } from '@bold-compass/core/model';

export const BOX_WIDTH = 190;
const LINE_HEIGHT = 20;
const HEAD_HEIGHT = 34;
const MOST_LINES = 4;

/** A fact or a dimension in the picture. */
interface Box {
  id: string;
  kind: 'fact' | 'dimension';
  name: string;
  label: string;
  lines: string[];
  x: number;
  y: number;
  height: number;
}

interface JoinLine {
  id: string;
  fact: string;
  dimension: string;
  /** The level that the fact is kept at, where that is not the grain. */
  level: string;
  path: string;
}

/** The first levels of a dimension, and how many more there are. */
function levelLines({ levels }: Dimension): string[] {
  const shown = levels.length > MOST_LINES ? levels.slice(0, MOST_LINES - 1) : levels;
  const rest = levels.length - shown.length;
  return [...shown.map(({ label }) => label), ...(rest > 0 ? [`and ${rest} more`] : [])];
}

/** Lays facts and dimensions out, facts at the left, without crossing where that can be (dagre, layered layout). */
export function layOut(dataset: Dataset): { boxes: Box[]; joins: JoinLine[]; width: number; height: number } {
  const graph = new dagre.graphlib.Graph();
  graph.setGraph({ rankdir: 'LR', nodesep: 14, ranksep: 230, marginx: 8, marginy: 8 });
  graph.setDefaultEdgeLabel(() => ({}));
  const lines = new Map<string, string[]>();
  const add = (id: string, own: string[]): void => {
    lines.set(id, own);
    graph.setNode(id, { width: BOX_WIDTH, height: HEAD_HEIGHT + own.length * LINE_HEIGHT + 8 });
  };
  for (const fact of dataset.facts) {
    const measures = dataset.measures.filter((measure) => measure.fact === fact.name).length;
    add(`fact ${fact.name}`, [`${fact.fields.length} fields`, `${measures} ${measures === 1 ? 'measure' : 'measures'}`]);
  }
  for (const dimension of dataset.dimensions) add(`dimension ${dimension.name}`, levelLines(dimension));
  for (const fact of dataset.facts) for (const link of fact.links) graph.setEdge(`fact ${fact.name}`, `dimension ${link.dimension}`);
  dagre.layout(graph);
  const boxOf = (kind: Box['kind'], name: string, label: string): Box => {
    const { x, y, height } = graph.node(`${kind} ${name}`);
    return {
      id: `${kind} ${name}`,
      kind,
      name,
      label,
      lines: lines.get(`${kind} ${name}`)!,
      x: x - BOX_WIDTH / 2,
      y: y - height / 2,
      height,
    };
  };
  const boxes = [
    ...dataset.facts.map(({ name, label }) => boxOf('fact', name, label)),
    ...dataset.dimensions.map(({ name, label }) => boxOf('dimension', name, label)),
  ];
  const find = (id: string): Box => boxes.find((box) => box.id === id)!;
  const joins = dataset.facts.flatMap((fact) =>
    fact.links.map((link): JoinLine => {
      const [from, to] = [find(`fact ${fact.name}`), find(`dimension ${link.dimension}`)];
      const dimension = dataset.dimensions.find(({ name }) => name === link.dimension)!;
      const [x1, y1, x2, y2] = [from.x + BOX_WIDTH, from.y + from.height / 2, to.x, to.y + HEAD_HEIGHT / 2];
      return {
        ...{ id: `${fact.name} ${link.dimension}`, fact: fact.name, dimension: link.dimension },
        level: dimension.levels.find(({ name }) => name === link.level)?.label ?? '',
        path: `M${x1},${y1} C${(x1 + x2) / 2},${y1} ${(x1 + x2) / 2},${y2} ${x2},${y2}`,
      };
    }),
  );
  const { width = 0, height = 0 } = graph.graph();
  return { boxes, joins, width, height };
}
