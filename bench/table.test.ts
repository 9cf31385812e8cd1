import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { compare, keepPart, passes, type Row } from './table';

let folder = '';
beforeEach(() => {
  folder = mkdtempSync(path.join(tmpdir(), 'wairetic-table-'));
});
afterEach(() => rmSync(folder, { recursive: true }));

const row = (what: string, value: number): Row => ({ group: 'Group', what, shown: String(value), value, atLeast: 1 });

describe('the table', () => {
  it('keeps each part until it is measured again, in the order of the parts', () => {
    const [data, document] = ['a.json', 'a.md'].map((name) => path.join(folder, name));
    const keep = (part: string, ...rows: Row[]): void => keepPart(part, rows, '2 cores', ['one', 'two'], data, document);
    keep('two', row('second', 2));
    keep('one', row('first', 0.2));
    keep('two', row('second', 3));
    const text = readFileSync(document, 'utf8');
    expect(text).toContain('| second | 3 | at least 1 | met |');
    expect(text).not.toContain('| second | 2 |');
    expect(text.indexOf('| first | 0.2 | at least 1 | **missed** |')).toBeLessThan(text.indexOf('second'));
  });

  it('lets a time miss by what noise is and not by more, and nothing else', () => {
    const timed = (value: number): Row => ({ ...row('a', value), timed: true });
    expect(passes(timed(0.91))).toBe(true);
    expect(passes(timed(0.89))).toBe(false);
    expect(passes({ ...timed(1), atLeast: undefined, atMost: 0.95 })).toBe(true);
    expect(passes(row('a', 0.99))).toBe(false);
    expect(passes({ ...row('a', 1), atLeast: undefined, atMost: 0.99 })).toBe(false);
    expect(passes({ ...row('a', -0.01), atLeast: 0 })).toBe(false);
    expect(passes({ group: 'Group', what: 'told', shown: '5' })).toBe(true);
  });

  it('compares with the best of the baselines', () => {
    const rows = compare(
      'Group',
      'film',
      { best: { psnr: 34.5, ssim: 0.95 }, fast: { psnr: 33, ssim: 0.9 } },
      { name: 'x=1', psnr: 34, ssim: 0.94 },
      0,
    );
    expect(rows.map((r) => r.what)).toEqual(['film: x=1', 'film: fast', 'film: best']);
    expect(rows[2]).toMatchObject({ shown: '34.50 dB, 0.9500 (+0.50)', value: 0.5 });
  });
});
