import { describe, expect, it } from 'vitest';
import { EXPORT_FORMAT_NAMES, exportFormat, fileName } from './index.ts';

describe('names of files', () => {
  it('hold no sign that a system refuses, and are never empty', () => {
    expect(fileName('Sales: 2026 / "all"', 'pdf')).toBe('Sales 2026 all.pdf');
    expect(fileName('../../etc/passwd', 'csv')).toBe('etc passwd.csv');
    expect(fileName('a\u0000b\u202Egpj.exe\nc', 'xlsx')).toBe('a b gpj.exe c.xlsx');
    expect(fileName(' ... ', 'json')).toBe('Report.json');
    expect(fileName('Förderung – 売上', 'pdf')).toBe('Förderung – 売上.pdf');
  });
  it('are at most 80 signs long before their ending, and divide none', () => {
    expect(fileName('x'.repeat(500), 'pdf')).toBe(`${'x'.repeat(80)}.pdf`);
    expect(fileName('😀'.repeat(100), 'pdf')).toBe(`${'😀'.repeat(80)}.pdf`);
  });
});

it('every format says what it is called, where it goes and how much it holds', () => {
  for (const name of EXPORT_FORMAT_NAMES) {
    const { label, note, extension, mediaType, mostCells } = exportFormat(name);
    expect([label, note, extension].every((words) => words.length > 1)).toBe(true);
    expect(mediaType).toMatch(/^[a-z]+\/[\w.+-]+(; charset=utf-8)?$/);
    expect(mostCells).toBeGreaterThanOrEqual(50_000);
  }
});
