import { mkdtempSync, readdirSync, rmSync, statSync, writeFileSync, chmodSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { afterAll, describe, expect, it } from 'vitest';
import { SAME_PLACE } from '../../shared/maps/place';
import type { StrokeMark } from '../../shared/marks';
import type { Stroke } from '../../shared/masks/brush';
import { readMask, type Mask } from '../../shared/masks/mask';
import { maskValues } from '../../shared/masks/values';
import { keepDocument, readDocument } from './documents';
import { addMarks, readMarks, removeMarks } from './lists';
import { paintDocument, paintedStore } from './painted';
import { changeStrokes, readStrokes } from './strokes';

const folder = mkdtempSync(path.join(os.tmpdir(), 'wairetic-marks-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const stroke = (x: number, y: number, more: Partial<Stroke> = {}): Stroke => ({
  ...{ points: [{ x, y, pressure: 1 }], size: 30, softness: 0.5, flow: 1, mode: 'add' },
  ...more,
});
const SIZE = { width: 2000, height: 1500 };
const maskOf = (document: string): Mask =>
  (readMask({ feather: 0, parts: [{ shape: { kind: 'painted', document } }] }) as { mask: Mask }).mask;
const painted = async (document: string, x: number, y: number): Promise<number> =>
  (
    await maskValues(maskOf(document), {
      source: SIZE,
      place: SAME_PLACE,
      region: { x, y, width: 1, height: 1 },
      painted: paintedStore(folder),
    })
  )[0];

describe('hand work', () => {
  it('is kept under its checksum, once, and cannot be changed unseen', async () => {
    const hash = await keepDocument(folder, Buffer.from('a mark'));
    expect(await keepDocument(folder, Buffer.from('a mark'))).toBe(hash);
    expect((await readDocument(folder, hash)).toString()).toBe('a mark');
    const file = path.join(folder, hash.slice(0, 2), hash);
    expect(statSync(file).mode & 0o222).toBe(0);
    chmodSync(file, 0o644);
    writeFileSync(file, 'another');
    await expect(readDocument(folder, hash)).rejects.toThrow('was damaged on the disk');
    await expect(readDocument(folder, 'f'.repeat(64))).rejects.toThrow('is not in this archive');
    await expect(readDocument(folder, '../../etc/passwd')).rejects.toThrow('names no hand work');
    expect(readdirSync(path.dirname(file)).filter((f) => f.endsWith('.new'))).toEqual([]);
  });

  it('painted makes a new document and leaves the former as it was', async () => {
    const one = await paintDocument(folder, undefined, SIZE, [stroke(500, 500)]),
      two = await paintDocument(folder, one, SIZE, [stroke(1500, 900)]);
    expect([await painted(one, 500, 500), await painted(one, 1500, 900)]).toEqual([1, 0]);
    expect([await painted(two, 500, 500), await painted(two, 1500, 900)]).toEqual([1, 1]);
    // A document is named by its contents: two people who paint the same keep one.
    expect(await paintDocument(folder, one, SIZE, [stroke(1500, 900)])).toBe(two);
    // What is erased wholly leaves no tiles.
    const gone = await paintDocument(folder, one, SIZE, [stroke(500, 500, { size: 80, softness: 0, mode: 'erase' })]);
    expect((await paintedStore(folder).document(gone)).tiles).toEqual({});
    expect(gone).toBe(await paintDocument(folder, undefined, SIZE, []));
  });

  it('shares the tiles a stroke does not touch', async () => {
    const one = await paintDocument(folder, undefined, SIZE, [stroke(100, 100), stroke(1900, 1400)]),
      two = await paintDocument(folder, one, SIZE, [stroke(120, 100)]);
    const [a, b] = await Promise.all([one, two].map(async (d) => (await paintedStore(folder).document(d)).tiles));
    expect(Object.keys(b)).toEqual(Object.keys(a));
    expect(
      Object.keys(a)
        .filter((name) => a[name] !== b[name])
        .sort(),
    ).toEqual(['0/0,0', '1/0,0', '2/0,0', '3/0,0']);
  });

  it('that is no painted mask is refused', async () => {
    const hash = await keepDocument(folder, Buffer.from('{"format":"something"}'));
    await expect(paintedStore(folder).document(hash)).rejects.toThrow('no painted mask');
    await expect(painted('e'.repeat(64), 1, 1)).rejects.toThrow('not in this archive');
  });
});

describe('a list of marks', () => {
  const mark = (n: number) => ({ n, points: Array.from({ length: 20 }, (_, k) => [n + k / 20, (7 * n) % 500]) });

  it('grows mark by mark, keeps what it was, and loses those that are taken out', async () => {
    const one = await addMarks(folder, undefined, 'strokes', [mark(0)]);
    let list = one;
    for (let n = 1; n < 250; n++) list = await addMarks(folder, list, 'strokes', [mark(n)]);
    expect(await readMarks(folder, list)).toEqual(Array.from({ length: 250 }, (_, n) => mark(n)));
    expect(await readMarks(folder, one)).toEqual([mark(0)]);
    // However it came about, the same marks are the same document.
    expect(
      await addMarks(
        folder,
        undefined,
        'strokes',
        Array.from({ length: 250 }, (_, n) => mark(n)),
      ),
    ).toBe(list);
    const fewer = await removeMarks(folder, list, [0, 120, 249]);
    expect((await readMarks(folder, fewer)).length).toBe(247);
    expect((await readMarks(folder, fewer))[0]).toEqual(mark(1));
    await expect(addMarks(folder, list, 'placements', [mark(1)])).rejects.toThrow('These are marks for strokes');
  });

  it('of 5,000 writes little for one more', async () => {
    const list = await addMarks(
      folder,
      undefined,
      'strokes',
      Array.from({ length: 5000 }, (_, n) => mark(n)),
    );
    const bytes = (): number =>
      readdirSync(folder).reduce(
        (sum, dir) => sum + readdirSync(path.join(folder, dir)).reduce((s, f) => s + statSync(path.join(folder, dir, f)).size, 0),
        0,
      );
    const before = bytes();
    await addMarks(folder, list, 'strokes', [mark(5000)]);
    expect(bytes() - before).toBeLessThan(12_000);
  });
});

describe('strokes', () => {
  const stroke = (id: string, size = 10): StrokeMark => ({ id, use: 'heal', on: true, points: [{ x: 1, y: 2 }], size, softness: 0.5 });

  it('are added, changed in their place and removed; each list stays what it was', async () => {
    const one = await changeStrokes(folder, undefined, { set: [stroke('a'), stroke('b')], remove: [] }),
      two = await changeStrokes(folder, one, { set: [stroke('a', 20), stroke('c')], remove: [] }),
      three = await changeStrokes(folder, two, { set: [], remove: ['a', 'nobody'] });
    const sizes = async (list: string) => (await readStrokes(folder, list)).map(({ id, size }) => `${id} ${size}`);
    expect(await sizes(one)).toEqual(['a 10', 'b 10']);
    expect(await sizes(two)).toEqual(['a 20', 'b 10', 'c 10']);
    expect(await sizes(three)).toEqual(['b 10', 'c 10']);
  });

  it('are refused from a list of something else', async () => {
    await expect(readStrokes(folder, await addMarks(folder, undefined, 'strokes', [{ n: 1 }]))).rejects.toThrow(
      'is no stroke: a mark needs an id',
    );
    await expect(changeStrokes(folder, await addMarks(folder, undefined, 'hints', []), { set: [stroke('a')], remove: [] })).rejects.toThrow(
      'marks for hints',
    );
  });
});
