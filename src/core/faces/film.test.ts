import path from 'node:path';
import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { fromRgb } from '../picture/matrix';
import type { Picture } from '../picture/picture';
import { normalStream } from '../picture/random';
import { streamInfo } from '../testing/pictures';
import { bestFrameOf, facesAt, type FaceTrack, type FilmFaces, joinFilmFaces, measureFilmFaces } from './film';
import { boundsOf } from './mesh';

const SIZE = { width: 320, height: 240 };
const info = streamInfo({
  ...{ ...SIZE, frames: 18, chromaShiftX: 0, chromaShiftY: 0 },
  colour: { matrix: 'bt601', range: 'full', transfer: 'srgb', primaries: 'bt709' },
});

/** Two people a camera goes past, something before one's face in one frame, and then another picture. */
const CUT = 12,
  BLIND = 8,
  STEP = 3;

async function frames(): Promise<Picture[]> {
  const plate = async (name: string): Promise<Buffer> =>
    sharp(path.resolve(import.meta.dirname, '../../../demo/plates', name))
      .resize(420)
      .removeAlpha()
      .toBuffer();
  const [couple, portrait] = [await plate('couple.png'), await plate('portrait.png')];
  return Promise.all(
    Array.from({ length: info.frames }, async (_, n) => {
      const normal = normalStream(n);
      const left = n < CUT ? 20 + STEP * n : 40;
      const rgb = await sharp(n < CUT ? couple : portrait)
        .extract({ left, top: 20, ...SIZE })
        .raw()
        .toBuffer();
      const hidden = (i: number): boolean => n === BLIND && i % 960 > 3 * 175 && i % 960 < 3 * 295 && i > 960 * 85 && i < 960 * 215;
      const samples = Uint8Array.from(rgb, (v, i) => (hidden(i) ? 120 : Math.min(255, Math.max(0, v + 4 * normal()))));
      return fromRgb(samples, 3, info);
    }),
  );
}

const measured = (all: Picture[], first: number, end: number): Promise<FilmFaces> =>
  measureFilmFaces(info, (n) => Promise.resolve(all[n]), { first, end, progress: () => Promise.resolve() });

describe('the faces of a film', () => {
  it('are followed through their shot, over a frame that does not show them, and end where it is cut', async () => {
    const film = joinFilmFaces([await measured(await frames(), 0, info.frames)]);
    expect(film.shots).toContain(CUT);
    const couple = film.tracks.filter(({ first }) => first < CUT);
    expect(couple.map(({ first, meshes }) => [first, meshes.length])).toEqual([
      [0, CUT],
      [0, CUT],
    ]);
    // They move against the camera.
    for (const { meshes } of couple)
      expect((boundsOf(meshes[CUT - 1]).x - boundsOf(meshes[0]).x) * SIZE.width).toBeCloseTo(-STEP * (CUT - 1), -0.7);
    expect(film.tracks.filter(({ first }) => first >= CUT).map(({ first }) => first)).toEqual([CUT]);
  });

  it('are the same when they are measured in pieces', async () => {
    const all = await frames();
    const whole = joinFilmFaces([await measured(all, 0, 12)]),
      pieces = joinFilmFaces([await measured(all, 0, 6), await measured(all, 6, 12)]);
    expect(pieces.tracks.map(({ first, meshes }) => [first, meshes.length])).toEqual(
      whole.tracks.map(({ first, meshes }) => [first, meshes.length]),
    );
  });
});

describe('pieces of a film', () => {
  const mesh = (x: number): Float32Array =>
    Float32Array.from({ length: 936 }, (_, i) => (i % 2 ? 0.4 + (i % 30) / 150 : x + (i % 31) / 155));
  const track = (first: number, ...xs: number[]): FaceTrack => ({ first, meshes: xs.map(mesh) });
  const piece = (shots: number[], tracks: FaceTrack[]): FilmFaces => ({ ...SIZE, frames: 5, shots, tracks });

  it('are put together where a face goes on, not where a shot ends or it lies elsewhere', () => {
    const [one, two] = [track(0, 0.1, 0.11, 0.12, 0.13, 0.14), track(0, 0.15, 0.16, 0.17, 0.18, 0.19)];
    const lengths = (film: FilmFaces): number[][] => film.tracks.map(({ first, meshes }) => [first, meshes.length]);
    expect(lengths(joinFilmFaces([piece([0], [one]), piece([], [two])]))).toEqual([[0, 10]]);
    expect(lengths(joinFilmFaces([piece([0], [one]), piece([0], [two])]))).toEqual([
      [0, 5],
      [5, 5],
    ]);
    expect(lengths(joinFilmFaces([piece([0], [one]), piece([], [track(0, 0.7, 0.7, 0.7, 0.7)])]))).toEqual([
      [0, 5],
      [5, 4],
    ]);
    // Seen in too few frames to be one.
    expect(lengths(joinFilmFaces([piece([0], [track(1, 0.3, 0.3)])]))).toEqual([]);
  });

  it('tell the faces of each frame, and the one that shows a face largest', () => {
    const film = joinFilmFaces([piece([0], [track(1, 0.1, 0.12, 0.14, 0.16)])]);
    expect(facesAt(film, 0).faces).toEqual([]);
    const [face] = facesAt(film, 2).faces;
    expect(face).toMatchObject({ track: 0, pixels: Math.round(boundsOf(mesh(0.12)).width * SIZE.width) });
    film.tracks[0].meshes[2] = film.tracks[0].meshes[2].map((v, i) => (i % 2 ? v : 0.14 + 1.5 * (v - 0.14)));
    expect(bestFrameOf(film, 0)).toBe(3);
    // There half of it has left the frame.
    film.tracks[0].meshes[2] = film.tracks[0].meshes[2].map((v, i) => (i % 2 ? v : v - 0.3));
    expect(bestFrameOf(film, 0)).not.toBe(3);
  });
});
