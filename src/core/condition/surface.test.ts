import { describe, expect, it } from 'vitest';
import { NEUTRAL_CHROMA, type Picture, type Plane } from '../picture/picture';
import { blockCoded, noisyPlane, picture, streamInfo } from '../testing/pictures';
import { measureBars, measureBlocking, measureCoding, measureColour } from './surface';

const info = streamInfo({ width: 160, height: 120 });
const withLuma = (change: (x: number, y: number, v: number) => number): Picture => {
  const p = picture(info);
  return {
    ...p,
    planes: [{ ...p.planes[0], data: p.planes[0].data.map((v, i) => change(i % 160, Math.floor(i / 160), v)) }, ...p.planes.slice(1)],
  };
};

describe('measureBars', () => {
  it('counts black rows and columns, with noise on them', () => {
    const barred = withLuma((x, y, v) => (x < 8 || x >= 150 || y < 12 ? 4096 + ((x * 31 + y * 17) % 900) : v));
    expect(measureBars(barred)).toEqual({ left: 8, right: 10, top: 12, bottom: 0 });
    expect(measureBars(picture(info))).toEqual({ left: 0, right: 0, top: 0, bottom: 0 });
  });

  it('finds none on a frame that is black all over', () => {
    expect(measureBars(withLuma(() => 4096))).toEqual({ left: 0, right: 0, top: 0, bottom: 0 });
  });
});

describe('measureColour', () => {
  it('tells colour from monochrome with chroma noise, and from one tone', () => {
    expect(measureColour(picture(info)).monochrome).toBe(false);
    const grey = picture(info);
    for (const plane of grey.planes.slice(1)) plane.data.set(noisyPlane({ ...plane, data: plane.data.fill(NEUTRAL_CHROMA) }, 500, 3).data);
    expect(measureColour(grey)).toMatchObject({ monochrome: true, toned: false });
    for (const [i, shift] of [-1500, 1800].entries()) grey.planes[i + 1].data.forEach((v, k) => (grey.planes[i + 1].data[k] = v + shift));
    expect(measureColour(grey)).toMatchObject({ monochrome: true, toned: true });
  });

  it('takes sepia for monochrome, though its shadows have more of it than its lights', () => {
    const sepia = streamInfo({ width: 160, height: 120, chromaShiftX: 0, chromaShiftY: 0 });
    const [luma] = picture(sepia).planes;
    const tone = (share: number): Plane => ({
      ...luma,
      data: luma.data.map((v) => NEUTRAL_CHROMA + share * Math.sin((v / 65536) * Math.PI)),
    });
    const toned = { ...picture(sepia), planes: [luma, tone(-5000), tone(4000)] };
    expect(measureColour(toned)).toMatchObject({ monochrome: true, toned: true });
  });
});

describe('measureCoding', () => {
  it('tells about how coarse the steps of a block codec were', () => {
    const wide = picture(streamInfo({ width: 640, height: 480 }));
    // Slopes as gentle as a photograph's: the pattern stretched.
    wide.planes[0].data.forEach((_, i, data) => (data[i] = 30000 + 9000 * Math.sin((i % 640) / 60 + Math.floor(i / 640) / 90)));
    const seen = [8, 16, 32].map((step) => measureCoding({ ...wide, planes: [blockCoded(wide.planes[0], step)] }));
    expect(seen).toEqual([...seen].sort((a, b) => a - b));
    expect(measureCoding(wide)).toBeLessThan(1);
    expect(seen[0]).toBeGreaterThan(2);
  });
});

describe('measureBlocking', () => {
  it('finds a grid of eight and its place', () => {
    const blocked = withLuma((x, y, v) => v + (((Math.floor((x + 5) / 8) * 7 + Math.floor(y / 8) * 3) % 5) - 2) * 700);
    expect(measureBlocking(blocked)).toMatchObject({ phase: 3 });
    expect(measureBlocking(blocked).ratio).toBeGreaterThan(1.5);
    expect(measureBlocking(picture(info)).ratio).toBeLessThan(1.3);
  });
});
