import { describe, expect, it } from 'vitest';
import { psnr } from '../metrics/metrics';
import { newPlane, type Plane, type Region } from '../picture/picture';
import { texturedPlane } from '../testing/pictures';
import { withoutHalos } from './halos';
import { withoutStairSteps } from './stairSteps';

const WIDTH = 128,
  HEIGHT = 96;
const whole: Region = { x: 0, y: 0, width: WIDTH, height: HEIGHT };

const plane = (value: (x: number, y: number) => number): Plane => {
  const out = newPlane(WIDTH, HEIGHT);
  out.data.forEach((_, i) => (out.data[i] = Math.round(value(i % WIDTH, Math.floor(i / WIDTH)))));
  return out;
};

/** How bright a slanting bar is at a distance from its edge, softly. */
const bar = (x: number, y: number): number => 14000 + 36000 / (1 + Math.exp(-((x - 64 + 0.4 * (y - 48)) / 0.8)));

describe('halos', () => {
  /** An overshoot of three pixels beside the edge, as an edge enhancer leaves it. */
  const ringing = plane((x, y) => {
    const d = (x - 64 + 0.4 * (y - 48)) / 1.08;
    return bar(x, y) + 9000 * Math.sign(d) * Math.exp(-(((Math.abs(d) - 3) / 1.2) ** 2));
  });
  const truth = plane(bar);

  it('go, and the edge stays', () => {
    const made = withoutHalos(ringing, whole, whole, { width: 3, bright: 1, dark: 1 });
    expect(psnr(made, truth, 65535, 8)).toBeGreaterThan(psnr(ringing, truth, 65535, 8) + 6);
    expect(psnr(withoutHalos(truth, whole, whole, { width: 3, bright: 1, dark: 1 }), truth, 65535, 8)).toBeGreaterThan(50);
  });

  it('are told from lines of their own, and stay where they are asked to', () => {
    const line = plane((x, y) => (Math.abs(x - 40) < 1.5 ? 60000 : bar(x, y)));
    const made = withoutHalos(line, whole, whole, { width: 3, bright: 1, dark: 1 });
    expect(made.data[48 * WIDTH + 40]).toBe(60000);
    expect(withoutHalos(ringing, whole, whole, { width: 3, bright: 0, dark: 0 }).data).toEqual(ringing.data);
  });
});

describe('stair-steps', () => {
  const truth = plane((x, y) => (x - 64 + 0.6 * (y - 48) > 0 ? 52000 : 9000));
  const smooth = plane((x, y) => 9000 + 43000 / (1 + Math.exp(-(x - 64 + 0.6 * (y - 48)) / 0.7)));
  /** Halved and doubled by repeating. */
  const jagged = plane((x, y) => truth.data[(y & ~1) * WIDTH + (x & ~1)]);

  it('become smooth', () => {
    const made = withoutStairSteps(jagged, whole, whole, 1.5, 1);
    expect(psnr(made, smooth, 65535, 12)).toBeGreaterThan(psnr(jagged, smooth, 65535, 12) + 2);
  });

  it('are only where edges are: texture and smooth edges stay', () => {
    expect(psnr(withoutStairSteps(smooth, whole, whole, 1.5, 1), smooth, 65535, 12)).toBeGreaterThan(42);
    const texture = texturedPlane(WIDTH, HEIGHT);
    expect(psnr(withoutStairSteps(texture, whole, whole, 1, 1), texture, 65535, 12)).toBeGreaterThan(30);
    expect(withoutStairSteps(texture, whole, whole, 1, 0).data).toEqual(texture.data);
  });
});
