import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { NOTHING_TOLD } from '../../shared/about';
import { CONTACT_SHEET, layOutPrint } from '../../shared/print';
import { beforeAfterSheet } from './beforeAfter';
import { contactSheets } from './contactSheet';
import { canBeSet, linesOf, runsOf, widthOf } from './fonts';
import type { Page } from './page';
import { toPdf } from './pdf';
import { toPng } from './png';
import { printPage } from './print';

const flat = async (width: number, height: number, background: string): Promise<{ file: Buffer; width: number; height: number }> => ({
  file: await sharp({ create: { width, height, channels: 3, background } })
    .jpeg({ quality: 100, chromaSubsampling: '4:4:4' })
    .toBuffer(),
  width,
  height,
});

/** Red, green and blue of a page at a place in millimetres. */
async function colourAt(png: Buffer, ppi: number, x: number, y: number): Promise<number[]> {
  const { data, info } = await sharp(png).removeAlpha().raw().toBuffer({ resolveWithObject: true });
  const at = (Math.round((y / 25.4) * ppi) * info.width + Math.round((x / 25.4) * ppi)) * 3;
  return [...data.subarray(at, at + 3)];
}

const within = (page: Page): void => {
  for (const { x, y, width, height } of page.pictures) {
    expect(Math.min(x, y)).toBeGreaterThanOrEqual(0);
    expect(x + width).toBeLessThanOrEqual(page.width);
    expect(y + height).toBeLessThanOrEqual(page.height);
  }
  for (const { text, x, y, size, strong } of page.texts) {
    expect(x + widthOf(text, strong) * size).toBeLessThanOrEqual(page.width);
    expect(y).toBeLessThanOrEqual(page.height);
  }
};

describe('text', () => {
  it('is set in the file of the typeface that has its signs', () => {
    expect(runsOf('Ruth, Ναύπλιο, Лето').map((run) => run.text)).toEqual(['Ruth, ', 'Ναύπλιο', ', ', 'Лето']);
    expect(canBeSet('Ångström, Łódź, Đà Nẵng')).toBe(true);
    expect(canBeSet('山')).toBe(false);
  });

  it('is broken into lines that fit, and cut where there is no more room', () => {
    const lines = linesOf('one two three four five six seven', 6);
    expect(lines.join(' ')).toBe('one two three four five six seven');
    for (const line of lines) expect(widthOf(line)).toBeLessThanOrEqual(6);
    const [only] = linesOf('one two three four five six seven', 6, 1);
    expect(only).toMatch(/…$/);
    expect(widthOf(only)).toBeLessThanOrEqual(6);
    for (const line of linesOf('Donaudampfschifffahrtsgesellschaft', 4)) expect(widthOf(line)).toBeLessThanOrEqual(4);
  });
});

describe('a contact sheet', () => {
  it('has as many pages as it takes, and nothing beyond their edges', async () => {
    const wide = await flat(300, 120, '#a04020');
    const long = 'A name that goes on and on until it has no room left on any of the lines that are there';
    const entries = Array.from({ length: 23 }, (_, n) => ({ ...wide, name: n % 2 ? long : `Picture ${n}`, told: `${long} ${long}` }));
    const pages = contactSheets(long + long, 'a note', entries);
    expect(pages.map((page) => page.pictures.length)).toEqual([CONTACT_SHEET.columns * CONTACT_SHEET.rows, 3]);
    pages.forEach(within);
    expect(contactSheets('Empty', '', [])).toHaveLength(1);
  });
});

describe('a sheet of before and after', () => {
  it('shows both in one height, with all that has room of what was done', async () => {
    const page = beforeAfterSheet({
      title: 'Harbour',
      about: { ...NOTHING_TOLD, date: 'about 1921', people: ['Ruth'] },
      before: await flat(400, 600, '#a04020'),
      after: await flat(900, 600, '#2040a0'),
      done: Array.from({ length: 30 }, (_, n) => `Step ${n}`),
      foot: 'Plan version 3',
    });
    within(page);
    expect(page.pictures[0].height).toBeCloseTo(page.pictures[1].height, 6);
    expect(page.texts.map((t) => t.text)).toEqual(
      expect.arrayContaining(['about 1921 · Ruth', 'Step 0', 'and more: see the provenance record']),
    );
    const png = await toPng(page, 72);
    const [before, after] = page.pictures;
    expect((await colourAt(png, 72, before.x + before.width / 2, before.y + 10))[0]).toBeGreaterThan(150);
    expect((await colourAt(png, 72, after.x + after.width / 2, after.y + 10))[2]).toBeGreaterThan(150);
  });
});

describe('a print', () => {
  const print = { width: 100, height: 150, fit: 'fill', bleed: 3 } as const;

  it('is filled as far as its bleed and no further, with marks where it is cut', async () => {
    const picture = await flat(600, 600, '#2040a0');
    const layout = layOutPrint(picture, print);
    const png = await toPng(printPage(layout, picture.file), 150);
    const { trim } = layout;
    expect((await colourAt(png, 150, trim.x - 2.5, trim.y - 2.5))[2]).toBeGreaterThan(120);
    expect(await colourAt(png, 150, trim.x - 4, trim.y + 50)).toEqual([255, 255, 255]);
    expect((await colourAt(png, 150, trim.x, trim.y - 8))[0]).toBeLessThan(200);
  });

  it('says in its PDF where it is cut', async () => {
    const picture = await flat(60, 60, '#2040a0');
    const layout = layOutPrint(picture, print);
    const pdf = (await toPdf([printPage(layout, picture.file)], { title: 'Harbour', trim: { ...layout.trim, bleed: 3 } })).toString(
      'latin1',
    );
    const box = (name: string): number[] => (new RegExp(`/${name} \\[([^\\]]*)\\]`).exec(pdf)?.[1] ?? '').split(' ').map(Number);
    const [left, bottom, right, top] = box('TrimBox');
    expect([right - left, top - bottom].map((v) => Math.round((v / 72) * 25.4))).toEqual([100, 150]);
    expect(box('BleedBox')[0]).toBeCloseTo(left - (3 / 25.4) * 72, 2);
    expect(box('MediaBox')[2]).toBeCloseTo(((100 + 2 * 11) / 25.4) * 72, 2);
  });
});
