import path from 'node:path';
import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { fromRgb } from '../picture/matrix';
import type { Picture } from '../picture/picture';
import { streamInfo } from '../testing/pictures';
import { findFaces } from './find';

const PLATES = path.resolve(import.meta.dirname, '../../../demo/plates');

async function plate(name: string, width?: number): Promise<Picture> {
  const { data, info } = await sharp(path.join(PLATES, name)).resize(width).removeAlpha().raw().toBuffer({ resolveWithObject: true });
  const stream = streamInfo({
    ...{ width: info.width, height: info.height, frames: 1, chromaShiftX: 0, chromaShiftY: 0 },
    colour: { matrix: 'bt601', range: 'full', transfer: 'srgb', primaries: 'bt709' },
  });
  return fromRgb(new Uint8Array(data), 3, stream);
}

describe('faces', () => {
  it.each([
    ['portrait.png', 1],
    ['couple.png', 2],
    ['cousins.png', 2],
    ['family.png', 8],
    ['group.png', 11],
  ])('of %s are all found, and nothing else', async (name, count) => {
    const { faces } = await findFaces(await plate(name));
    expect(faces).toHaveLength(count);
    for (const { x, y, width, height } of faces) {
      expect(Math.min(x, y)).toBeGreaterThan(0);
      expect(Math.max(x + width, y + height)).toBeLessThan(1);
    }
  });

  it.each([1, 2, 3])('are found when the picture lies %i quarters on its side, and lie there too', async (quarters) => {
    const { data, info } = await sharp(path.join(PLATES, 'couple.png'))
      .rotate(90 * quarters)
      .removeAlpha()
      .raw()
      .toBuffer({ resolveWithObject: true });
    const stream = streamInfo({
      ...{ width: info.width, height: info.height, frames: 1, chromaShiftX: 0, chromaShiftY: 0 },
      colour: { matrix: 'bt601', range: 'full', transfer: 'srgb', primaries: 'bt709' },
    });
    const { faces } = await findFaces(fromRgb(new Uint8Array(data), 3, stream));
    expect(faces).toHaveLength(2);
    for (const { roll, mesh } of faces) {
      expect(mesh).toHaveLength(936);
      const off = (((roll - 90 * quarters) % 360) + 540) % 360;
      expect(Math.abs(off - 180)).toBeLessThan(8);
    }
  });

  it('are not found where there are none', async () => {
    expect((await findFaces(await plate('lane.png'))).faces).toEqual([]);
  });
});
