import { fillFrom, type Copied } from './fill';
import { smoothFill } from './guess';
import type { Hole } from './hole';
import { meansWithin } from './means';

/** Directions along which a hole is bridged. */
const DIRECTIONS = 8;
/** Pixels a bridge may reach to either side, and those that are averaged at its ends. */
const MAX_BRIDGE = 24,
  ENDS = 2;
/** Pixels over which the light below damage is compared with that around it. */
const LIGHT = 6;
/** Copies come from so many pixels away at most. */
export const COPY_REACH = 64;

/** Ways to fill: smoothly, with patches, along the directions, as the damage shows it, and the same in the light around it. */
export const CANDIDATES = 2 + DIRECTIONS + 2;
/** The place of the last two, which are of no use where what shows is not the picture. */
export const SHOWN = 2 + DIRECTIONS;

/**
 * What each of the ways to fill gives, all planes of it. A network weighs them: each is right somewhere.
 * @param seeThrough whether what shows in the hole may be of the picture.
 * @returns the ways, and where the copies among them are from.
 */
export function fillCandidates(hole: Hole, seeThrough: boolean): { ways: Uint16Array[][]; from: Copied['from'] } {
  const { planes, missing } = hole;
  const smooth = smoothOf(hole);
  const rounded = smooth.map((made, p) => planes[p].map((v, i) => (missing[i] ? code(made[i]) : v)));
  const patches = fillFrom(hole, { seed: 1, reach: COPY_REACH });
  const bridged = Array.from({ length: DIRECTIONS }, (_, n) => bridgedAlong(hole, rounded, (n * Math.PI) / DIRECTIONS));
  const shown = seeThrough ? [planes, relit(hole, smooth)].map((way) => unlessPainted(hole, way, rounded)) : [rounded, rounded];
  return { ways: [rounded, patches.planes, ...bridged, ...shown], from: patches.from };
}

const unlessPainted = ({ painted }: Hole, shown: Uint16Array[], otherwise: Uint16Array[]): Uint16Array[] =>
  painted ? shown.map((plane, p) => plane.map((v, i) => (painted[i] ? otherwise[p][i] : v))) : shown;

/** A hole filled smoothly. */
export function smoothOf({ width, height, planes, missing }: Hole): Float32Array[] {
  const known = new Float32Array(missing).map((m) => 1 - m);
  return smoothFill(
    planes.map((p) => new Float32Array(p)),
    known,
    width,
    height,
  );
}

const code = (v: number): number => Math.min(65535, Math.max(0, Math.round(v)));

/** Each missing pixel between the nearest known ones to both sides along a direction, the nearer counting more. */
function bridgedAlong({ width, height, planes, missing }: Hole, otherwise: Uint16Array[], angle: number): Uint16Array[] {
  const out = otherwise.map((p) => p.slice());
  const steps = [1, -1].map((sign) =>
    Array.from({ length: MAX_BRIDGE + ENDS }, (_, n) => ({
      dx: Math.round(sign * (n + 1) * Math.cos(angle)),
      dy: Math.round(sign * (n + 1) * Math.sin(angle)),
    })),
  );
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      if (!missing[y * width + x]) continue;
      const ends = steps.map((way) => bank(way, x, y));
      let total = 0;
      for (const end of ends) if (end) total += 1 / end.away;
      if (total === 0) continue;
      planes.forEach((plane, p) => {
        let sum = 0;
        for (const end of ends) if (end) for (const i of end.places) sum += plane[i] / (end.away * end.places.length);
        out[p][y * width + x] = code(sum / total);
      });
    }
  }
  return out;

  /** The first known pixels on a way. */
  function bank(way: { dx: number; dy: number }[], x: number, y: number): { away: number; places: number[] } | undefined {
    const places: number[] = [];
    let away = 0;
    for (const [n, { dx, dy }] of way.entries()) {
      const tx = x + dx,
        ty = y + dy;
      if (tx < 0 || ty < 0 || tx >= width || ty >= height) break;
      const i = ty * width + tx;
      if (missing[i]) {
        if (places.length || n >= MAX_BRIDGE) break;
        continue;
      }
      if (places.length === 0) away = n + 1;
      if (places.push(i) === ENDS) break;
    }
    return places.length ? { away, places } : undefined;
  }
}

/** What shows through the damage, brought to the light that the surroundings have: stains dim, they do not hide. */
function relit({ width, height, planes, missing }: Hole, smooth: Float32Array[]): Uint16Array[] {
  return planes.map((plane, p) => {
    const own = meansWithin(plane, missing, width, height, LIGHT),
      wanted = meansWithin(smooth[p], missing, width, height, LIGHT);
    return plane.map((v, i) => {
      if (!missing[i]) return v;
      // Chroma is a difference and is moved; luma is light and is scaled.
      return code(p === 0 ? v * Math.min(4, wanted[i] / Math.max(256, own[i])) : v + wanted[i] - own[i]);
    });
  });
}
