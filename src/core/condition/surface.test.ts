import { describe, expect, it } from 'vitest';
import { NEUTRAL_CHROMA, type Picture, type Plane } from '../picture/picture';
import { noisyPlane, picture, streamInfo } from '../testing/pictures';
import { measureBlocking, measureColour } from './surface';

const info = streamInfo({ width: 160, height: 120 });
const withLuma = (change: (x: number, y: number, v: number) => number): Picture => {
  const p = picture(info);
  return {
    ...p,
    planes: [{ ...p.planes[0], data: p.planes[0].data.map((v, i) => change(i % 160, Math.floor(i / 160), v)) }, ...p.planes.slice(1)],
  };
};

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

describe('measureBlocking', () => {
  it('finds a grid of eight and its place', () => {
    const blocked = withLuma((x, y, v) => v + (((Math.floor((x + 5) / 8) * 7 + Math.floor(y / 8) * 3) % 5) - 2) * 700);
    expect(measureBlocking(blocked)).toMatchObject({ phase: 3 });
    expect(measureBlocking(blocked).ratio).toBeGreaterThan(1.5);
    expect(measureBlocking(picture(info)).ratio).toBeLessThan(1.3);
  });

  it('does not take edges that happen to lie on a grid for one', () => {
    // Bars of 24 px: their edges lie on the grid, and there is nothing else.
    const barred = withLuma((x) => 9000 + 700 * Math.floor(x / 24));
    expect(measureBlocking(barred).ratio).toBeLessThan(1.05);
    expect(measureBlocking(withLuma(() => 30000)).ratio).toBe(1);
  });
});
