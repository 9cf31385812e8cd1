import path from 'node:path';
import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { fromRgb } from '../picture/matrix';
import type { Picture } from '../picture/picture';
import { randomStream } from '../picture/random';
import { streamInfo } from '../testing/pictures';
import { surelyDirt } from '../treatments/dirt/dirt';
import { dirtWords, measureDirt } from './dirt';

const WIDTH = 640;

/** A portrait of the demo's, as soft as prints are, with so many specks on it and a scratch. */
async function print(specks: number, blur = 1.6, shown = WIDTH): Promise<Picture> {
  const plate = path.resolve(import.meta.dirname, '../../../demo/plates/portrait.png');
  const { data, info } = await sharp(plate).resize(WIDTH).removeAlpha().blur(blur).raw().toBuffer({ resolveWithObject: true });
  const random = randomStream(5);
  const spot = (): string =>
    `<ellipse cx="${random() * WIDTH}" cy="${random() * info.height}" rx="${2 + 2 * random()}" ry="${1.5 + random()}" fill="#f4f0e6"/>`;
  const scratch = specks ? '<path d="M80 40L420 560" stroke="#f6f4ee" stroke-width="2"/>' : '';
  const dust = `<svg width="${WIDTH}" height="${info.height}">${Array.from({ length: specks }, spot).join('')}${scratch}</svg>`;
  const dusty = await sharp(data, { raw: { width: WIDTH, height: info.height, channels: 3 } })
    .composite([{ input: Buffer.from(dust) }])
    .removeAlpha()
    .png()
    .toBuffer();
  const { data: rgb, info: size } = await sharp(dusty).resize(shown).raw().toBuffer({ resolveWithObject: true });
  const stream = streamInfo({
    ...{ width: shown, height: size.height, frames: 1, chromaShiftX: 0, chromaShiftY: 0 },
    colour: { matrix: 'bt601', range: 'full', transfer: 'srgb', primaries: 'bt709' },
  });
  return fromRgb(new Uint8Array(rgb), 3, stream);
}

describe('damage of a print', () => {
  it('is surely there where it stands out from a soft picture, and is counted', async () => {
    const found = await measureDirt(await print(60));
    expect(found.sure).toBeGreaterThan(0.5);
    expect(surelyDirt(found)).toBe(true);
    expect(found.counts.specks).toBeGreaterThan(40);
    // A thin straight line may pass for a crack or a hair.
    expect(found.counts.scratches + found.counts.cracks + found.counts.hairs).toBeGreaterThan(0);
    expect(dirtWords(found)).toMatch(/^\d+ specks/);
  });

  it('is not surely there in a small picture, whatever it shows', async () => {
    const found = await measureDirt(await print(60, 1.6, 200));
    expect([found.sure, found.share > 0]).toEqual([0, true]);
  });

  it('is not surely there in a picture without any', async () => {
    const clean = await measureDirt(await print(0));
    expect(surelyDirt(clean)).toBe(false);
    expect(clean.share).toBeLessThan(0.1);
  });
});
