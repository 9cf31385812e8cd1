import { insideFrame, type Region, type StreamInfo } from '../../picture/picture';
import { bent, WARP_BORDER } from '../../warp/warp';
import type { Point } from '../../warp/quadrilateral';
import { NumberSetting } from '../setting';
import { NO_NEEDS, type Treatment } from '../treatment';

export class LensSettings {
  @NumberSetting({
    label: 'Bow',
    unit: '%',
    min: -30,
    max: 30,
    step: 0.5,
    help: 'Straightens lines that a lens has bowed: above 0 those that bow out, like a barrel, below 0 those that bow in. Corners stay within the picture.',
  })
  bow = 0;
}

/**
 * Where a place of the straightened picture lies in the bowed one: radially, by the square of how far it is from the middle (Brown, Decentering
 * distortion of lenses, 1966, its first term); half the diagonal is 1.
 */
function bowed({ bow }: LensSettings, { width, height }: { width: number; height: number }): (x: number, y: number) => Point {
  const k = -bow / 100;
  const half = Math.hypot(width, height) / 2;
  // Lines that bowed in would run out of the picture: then it is made smaller, so that its corners stay.
  const scale = k > 0 ? 1 / (1 + k) : 1;
  return (x, y) => {
    const u = (x - width / 2) / half,
      v = (y - height / 2) / half;
    const gain = scale * (1 + k * (u * u + v * v));
    return { x: width / 2 + u * gain * half, y: height / 2 + v * gain * half };
  };
}

/** Part of the bowed picture that a part of the straightened one comes from: its border holds what lies farthest out. */
function comesFrom({ x, y, width, height }: Region, settings: LensSettings, input: StreamInfo): Region {
  const at = bowed(settings, input);
  const points: Point[] = [];
  // The middle's lines may be where a side of the part bows farthest.
  const along = (from: number, size: number, middle: number): number[] => [
    from,
    from + size,
    Math.min(from + size, Math.max(from, middle)),
  ];
  for (const u of along(x, width, input.width / 2)) for (const v of along(y, height, input.height / 2)) points.push(at(u, v));
  const left = Math.floor(Math.min(...points.map((p) => p.x))) - 1,
    top = Math.floor(Math.min(...points.map((p) => p.y))) - 1,
    right = Math.ceil(Math.max(...points.map((p) => p.x))) + 1,
    bottom = Math.ceil(Math.max(...points.map((p) => p.y))) + 1;
  const part = insideFrame({ x: left, y: top, width: right - left, height: bottom - top }, input);
  return { ...part, width: Math.max(1, part.width), height: Math.max(1, part.height) };
}

export const lens: Treatment<LensSettings> = {
  id: 'lens',
  version: 1,
  name: 'Lens',
  answers: 'lines bowed by a lens',
  settings: LensSettings,
  suits: ({ fieldOrder }) => fieldOrder === 'progressive',
  output: (input) => input,
  needs: () => ({ ...NO_NEEDS, border: WARP_BORDER, grid: 2 }),
  regionAt: comesFrom,
  propose: () => undefined,
  summary: ({ bow }) => (bow === 0 ? 'straight' : `bowed ${bow > 0 ? 'out' : 'in'}, ${Math.abs(bow)} %`),
  apply: ([source], settings, { output, region }) => ({ ...bent(source, region, bowed(settings, source.info)), info: output }),
};
