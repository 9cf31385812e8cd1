import path from 'node:path';
import sharp, { type Sharp } from 'sharp';
import { describe, expect, it } from 'vitest';
import { fromRgb } from '../picture/matrix';
import type { Picture } from '../picture/picture';
import { streamInfo } from '../testing/pictures';
import { areaMask } from './areas';
import { findFaces } from './find';
import { faceParts } from './parts';

const PLATES = path.resolve(import.meta.dirname, '../../../demo/plates');

const plate = (name: string, width?: number): Promise<Picture> => pictured(sharp(path.join(PLATES, name)).resize(width));

async function pictured(image: Sharp): Promise<Picture> {
  const { data, info } = await image.removeAlpha().raw().toBuffer({ resolveWithObject: true });
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

  it('of a long row of people are found, each in a part that is not as long', async () => {
    const row = ['album-1955.png', 'album-1968.png', 'album-1983.png'].map((name) => path.join(PLATES, name));
    const size = { width: 1680 + 1920 + 1680, height: 288 };
    const all = sharp({ create: { ...size, channels: 3, background: '#555' } }).composite(
      row.map((input, n) => ({ input, left: [0, 1680, 3600][n], top: 0 })),
    );
    expect((await findFaces(await pictured(sharp(await all.png().toBuffer()).resize(2640)))).faces).toHaveLength(22);
  });

  it('have parts where their eyes, lips, cheeks and hair are, however large the picture is said to be', async () => {
    const picture = await plate('couple.png');
    const { faces, width, height } = await findFaces(picture);
    for (const { mesh = [], ...face } of faces) {
      const parts = faceParts(mesh, { width, height });
      const [box, of] = [
        { left: face.x * width, right: (face.x + face.width) * width, top: face.y * height, bottom: (face.y + face.height) * height },
        (part: keyof typeof parts) => parts[part].flatMap(({ points }) => points),
      ];
      const middle = (part: keyof typeof parts): number => of(part).reduce((sum, { y }) => sum + y, 0) / of(part).length;
      for (const { x, y } of [...of('eyes'), ...of('lips'), ...of('cheeks')]) {
        expect(x > box.left && x < box.right && y > box.top - face.height * height && y < box.bottom).toBe(true);
      }
      expect(middle('hair')).toBeLessThan(middle('eyes'));
      expect(middle('eyes')).toBeLessThan(middle('cheeks'));
      expect(middle('cheeks')).toBeLessThan(middle('lips'));
      for (const { size } of parts.eyes) expect(size).toBeLessThan(0.2 * (box.right - box.left));
      const doubled = faceParts(mesh, { width: 2 * width, height: 2 * height });
      expect(doubled.lips[0].size).toBeCloseTo(2 * parts.lips[0].size, 6);
      expect(doubled.hair[0].points[0].y).toBeCloseTo(2 * parts.hair[0].points[0].y, 6);
    }
  });

  it('have areas, each of which gets what it is given', async () => {
    const { faces } = await findFaces(await plate('portrait.png'));
    const mesh = Float32Array.from(faces[0].mesh ?? []);
    const bounds = [0, 1].map((axis) => {
      const own = mesh.filter((_, i) => i % 2 === axis);
      return { least: Math.min(...own), reach: Math.max(...own) - Math.min(...own) };
    });
    const outline = mesh.map((v, i) => 0.1 + (0.8 * (v - bounds[i % 2].least)) / bounds[i % 2].reach);
    const mask = areaMask(outline, 120, { eyes: 0.9, mouth: 0.5, skin: 0.2 });
    const at = (point: number): number => mask[Math.floor(120 * outline[2 * point + 1]) * 120 + Math.floor(120 * outline[2 * point])];
    for (const eye of [159, 386]) expect(at(eye)).toBeGreaterThan(0.6);
    expect(at(13)).toBeCloseTo(0.5, 1);
    for (const skin of [151, 152, 205, 425]) expect(at(skin)).toBeCloseTo(0.2, 5);
    expect(areaMask(outline, 60, { eyes: 1, mouth: 1, skin: 1 }).every((v) => Math.abs(v - 1) < 1e-6)).toBe(true);
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
