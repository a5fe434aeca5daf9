import { describe, expect, it } from 'vitest';
import { CanvasContext, readColour, readFont, SvgPath } from './canvas-context.ts';
import type { Ink } from './ink.ts';

/** What is put on a page is written down instead of drawn. */
function page() {
  const said: string[] = [];
  const number = (value: unknown): string => (typeof value === 'number' ? String(Math.round(value * 1000) / 1000) : JSON.stringify(value));
  const doc: unknown = new Proxy(
    {},
    {
      get:
        (_, name: string) =>
        (...values: unknown[]) => {
          said.push(`${name} ${values.map(number).join(' ')}`.trim());
          return doc;
        },
    },
  );
  const context = new CanvasContext({ doc, width: (text: string, _face: string, size: number) => text.length * size } as unknown as Ink);
  context.draws = true;
  return { said, context };
}
/** Only the steps of paths. */
const steps = (said: readonly string[]): string[] => said.filter((one) => /^(moveTo|lineTo|bezierCurveTo|closePath)/.test(one));

describe('a canvas on a page', () => {
  it('keeps paths where they were when they were made, whatever moves later', () => {
    const { said, context } = page();
    context.translate(10, 20);
    context.scale(2, 3);
    context.beginPath();
    context.moveTo(1, 1);
    context.lineTo(2, 1);
    context.resetTransform();
    context.lineTo(0, 0);
    context.stroke();
    expect(steps(said)).toEqual(['moveTo 12 23', 'lineTo 14 23', 'lineTo 0 0']);
  });

  it('turns about its origin, and comes back to what was before', () => {
    const { said, context } = page();
    context.save();
    context.rotate(Math.PI / 2);
    context.strokeStyle = '#fff';
    context.restore();
    context.rotate(Math.PI / 2);
    context.beginPath();
    context.moveTo(1, 0);
    context.lineTo(0, 1);
    context.stroke();
    expect(steps(said)).toEqual(['moveTo 0 1', 'lineTo -1 0']);
    expect(said.some((one) => one.startsWith('strokeColor [0,0,0]'))).toBe(true);
  });

  it('fills and strokes the same path, as a canvas does', () => {
    const { said, context } = page();
    context.rect(0, 0, 4, 2);
    context.fill();
    context.stroke();
    expect(steps(said).filter((one) => one === 'lineTo 4 2')).toHaveLength(2);
  });

  it('draws a circle through its four corners, and a slice as long as it is', () => {
    const { said, context } = page();
    context.beginPath();
    context.arc(0, 0, 10, 0, 2 * Math.PI);
    context.fill();
    const ends = steps(said)
      .filter((one) => one.startsWith('bezier'))
      .map((one) => one.split(' ').slice(-2).join(' ').replaceAll('-0', '0'));
    expect(ends).toEqual(['0 10', '-10 0', '0 -10', '10 0'].map((one) => one.replaceAll('-0', '0')));
    const back = page();
    back.context.beginPath();
    back.context.arc(0, 0, 10, 0, Math.PI / 2, true);
    back.context.fill();
    // The long way around: three quarters.
    expect(steps(back.said).filter((one) => one.startsWith('bezier'))).toHaveLength(3);
  });

  it('rounds corners where it is asked to, and goes straight where there is no corner', () => {
    const { said, context } = page();
    context.beginPath();
    context.moveTo(0, 0);
    context.arcTo(10, 0, 10, 10, 4);
    context.arcTo(10, 20, 10, 30, 4);
    context.stroke();
    const own = steps(said);
    expect(own[1]).toBe('lineTo 6 0');
    expect(own[2].split(' ').slice(-2)).toEqual(['10', '4']);
    expect(own.at(-1)).toBe('lineTo 10 20');
  });

  it('ignores arguments that are no numbers', () => {
    const { said, context } = page();
    context.beginPath();
    context.moveTo(1, 1);
    context.lineTo(Number.NaN, 3);
    context.bezierCurveTo(1, 1, Infinity, 2, 3, 3);
    context.lineTo(2, 2);
    context.lineWidth = Number.NaN;
    context.stroke();
    expect(steps(said)).toEqual(['moveTo 1 1', 'lineTo 2 2']);
    expect(said).toContain('lineWidth 1');
  });

  it('paints nothing where there is nothing to see, and in colours as they cover', () => {
    const { said, context } = page();
    context.fillStyle = 'transparent';
    context.fillRect(0, 0, 1, 1);
    context.globalAlpha = 0.5;
    context.fillStyle = 'rgba(1, 2, 3, 0.5)';
    context.fillRect(0, 0, 1, 1);
    expect(said.filter((one) => one.startsWith('fillColor'))).toEqual(['fillColor [1,2,3] 0.25']);
    const gradient = context.createLinearGradient(0, 0, 10, 0);
    gradient.addColorStop(0, '#ff0000');
    context.fillStyle = gradient;
    context.fillRect(0, 0, 1, 1);
    expect(said).toContain('linearGradient 0 0 10 0');
  });

  it('draws along paths of SVG where the canvas is moved to, and nothing along an empty one', () => {
    const { said, context } = page();
    context.translate(5, 5);
    context.fill(new SvgPath('M0 0L1 1Z'));
    expect(said).toContain('transform 1 0 0 1 5 5');
    expect(said).toContain('path "M0 0L1 1Z"');
    said.length = 0;
    context.fill(new SvgPath(''));
    expect(said).toEqual(['save', 'transform 1 0 0 1 5 5', 'restore']);
  });

  it('writes text where its line and its side say, and measures without drawing', () => {
    const { said, context } = page();
    context.font = "600 10px 'Source Sans 3 Variable', sans-serif";
    context.textAlign = 'right';
    context.fillText('abc', 100, 50);
    expect(said.find((one) => one.startsWith('text'))).toMatch(/^text "abc" 70 50 /);
    context.draws = false;
    said.length = 0;
    context.fillText('abc', 100, 50);
    context.stroke();
    expect(said).toEqual([]);
    expect(context.measureText('abcd')).toMatchObject({ width: 40 });
  });
});

it.each([
  ['#abc', [170, 187, 204], 1],
  ['#11223380', [17, 34, 51], 128 / 255],
  ['rgb(1, 2, 3)', [1, 2, 3], 1],
  ['rgba(1,2,3,.25)', [1, 2, 3], 0.25],
  ['rgb(1 2 3 / 50%)', [1, 2, 3], 0.5],
  ['white', [255, 255, 255], 1],
] as const)('the colour %s is read', (text, rgb, alpha) => {
  expect(readColour(text)).toEqual({ rgb, alpha: expect.closeTo(alpha) as number });
});

it('what is no colour is none', () => {
  for (const text of ['', 'url(x)', '#12', 'rgb(1,2)', 'rgb(a,b,c)', null, 7]) expect(readColour(text)).toBeNull();
});

it.each([
  ["12px 'Source Sans 3 Variable', sans-serif", 12, 'sans'],
  ["600 12.5px 'Source Sans 3 Variable'", 12.5, 'bold'],
  ["bold 24px 'Source Serif 4 Variable', Georgia, serif", 24, 'title'],
  ["italic 11px 'Source Sans 3 Variable'", 11, 'italic'],
  ['normal 400 9px Georgia', 9, 'serif'],
] as const)('the font %s is read', (font, size, face) => {
  expect(readFont(font)).toEqual({ size, face });
});
