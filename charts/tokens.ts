import { interpolateLab } from 'd3-interpolate';
import type { State } from '@bold-compass/core/indicators';

/** The tokens of the look as a canvas needs them. */
export interface CanvasTokens {
  ink: string;
  quiet: string;
  rule: string;
  hairline: string;
  paper: string;
  sea: string;
  brass: string;
  good: string;
  bad: string;
  series: readonly string[];
  states: Record<State, string>;
}

/** Families end in a word: a canvas takes a name that ends in a digit only in quotes. */
export const CHART_FONT = "'Source Sans 3 Variable', 'Segoe UI', sans-serif";
export const SERIF_FONT = "'Source Serif 4 Variable', Georgia, serif";

/** Greys of series, each far enough from the one before it. */
const GREYS = [0, 0.55, 0.28, 0.72, 0.14, 0.64, 0.42, 0.8];

/** The same look without colours. */
export function withoutColours(tokens: CanvasTokens): CanvasTokens {
  const { ink, quiet, paper } = tokens;
  const grey = (share: number): string => between(ink, paper, share);
  return {
    ...tokens,
    ...{ sea: ink, brass: quiet, good: grey(0.5), bad: ink, series: GREYS.map(grey) },
    states: { ...{ ahead: grey(0.75), on: grey(0.75), drifting: grey(0.45) }, ...{ off: ink, far: ink, none: grey(0.9) } },
  };
}

/** A colour without what lets through what is behind it. */
export const opaque = (colour: string): string => colour.replace(/^rgba\((.*), [\d.]+\)$/, 'rgb($1)');

/** Of two colours the one that reads better on a third: by contrast, as WCAG 2.2 defines it. */
export function readableOn({ ink, paper }: Pick<CanvasTokens, 'ink' | 'paper'>, colour: string): string {
  const luminance = (own: string): number => {
    const [red, green, blue] = (own.match(/[\d.]+/g) ?? []).map((part) => {
      const share = Number(part) / 255;
      return share <= 0.04045 ? share / 12.92 : ((share + 0.055) / 1.055) ** 2.4;
    });
    return 0.2126 * red + 0.7152 * green + 0.0722 * blue;
  };
  const contrast = (a: string, b: string): number => {
    const [low, high] = [luminance(a), luminance(b)].sort((x, y) => x - y);
    return (high + 0.05) / (low + 0.05);
  };
  return contrast(ink, colour) >= contrast(paper, colour) ? ink : paper;
}

/** A colour that lets through what is behind it; `share` from 0 to 1. */
export const faded = (colour: string, share: number): string => colour.replace(/^rgb\((.*)\)$/, `rgba($1, ${share})`);

/** The colour of a share from −1 to 1: from red over nearly paper to sea. */
export const shadeColour = (tokens: Pick<CanvasTokens, 'paper' | 'sea' | 'bad'>, share: number): string =>
  between(between(tokens.paper, tokens.sea, 0.08), share < 0 ? tokens.bad : tokens.sea, Math.min(1, Math.abs(share)));

/** The colour of a share from 0 to 1 of something that stands on paper: one way from a pale sea, that still shows, to sea. */
export const pointShade = (tokens: Pick<CanvasTokens, 'paper' | 'sea'>, share: number): string =>
  between(between(tokens.paper, tokens.sea, 0.22), tokens.sea, share);

/** A colour between two, `share` of the way from the first to the second: in CIELAB, where equal ways look alike (CIE 15). */
export const between = (first: string, second: string, share: number): string => interpolateLab(first, second)(share);
