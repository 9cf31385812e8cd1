import { TILE, levelsOf, tileName } from './painted';

/** One stroke of the brush, in pixels of the source. */
export interface Stroke {
  points: StrokePoint[];
  /** Diameter in pixels. */
  size: number;
  /** Share of the radius in which the brush fades out, 0 for a hard edge. */
  softness: number;
  /** How much each touch covers, 0 to 1. */
  flow: number;
  /** Adds to what is painted, or takes it away. */
  mode: 'add' | 'erase';
}

export interface StrokePoint {
  x: number;
  y: number;
  /** How hard the pen presses, 0 to 1; it scales the flow. */
  pressure: number;
}

/** Touches follow one another at this share of the radius, so that their edges do not show. */
const SPACING = 0.2;

/** Reads a tile by its name; undefined where nothing is painted. */
export type TileReader = (name: string) => Promise<Uint8Array | undefined>;

/** Where a stroke touches, evenly along its path. */
export function touches({ points, size }: Pick<Stroke, 'points' | 'size'>): StrokePoint[] {
  if (points.length === 0) return [];
  const step = Math.max(0.5, (size / 2) * SPACING);
  const out = [points[0]];
  let left = step;
  for (let i = 1; i < points.length; i++) {
    const a = points[i - 1],
      b = points[i];
    const length = Math.hypot(b.x - a.x, b.y - a.y);
    let at = left;
    for (; at <= length; at += step) {
      const t = at / length;
      out.push({ x: a.x + (b.x - a.x) * t, y: a.y + (b.y - a.y) * t, pressure: a.pressure + (b.pressure - a.pressure) * t });
    }
    left = at - length;
  }
  return out;
}

/** How much a touch covers at a distance from its middle, 0 to 1. */
export function coverage(distance: number, radius: number, softness: number): number {
  const edge = Math.max(1, radius * softness);
  const t = Math.min(1, Math.max(0, (radius - distance) / edge + (softness * radius < 1 ? 0.5 : 0)));
  return t * t * (3 - 2 * t);
}

/**
 * Paints strokes, in order.
 * @param size of the source in pixels.
 * @returns the tiles that changed, by name, of every level; empty ones hold only zeros.
 */
export async function paintStrokes(
  strokes: readonly Stroke[],
  size: { width: number; height: number },
  read: TileReader,
): Promise<Map<string, Uint8Array>> {
  const changed = new Map<string, Uint8Array>();
  const now: TileReader = async (name) => changed.get(name) ?? read(name);
  for (const stroke of strokes) for (const [name, tile] of await paintFull(stroke, size, now)) changed.set(name, tile);
  for (let level = 1; level < levelsOf(size); level++) await halve(level, changed, read);
  return changed;
}

/** The tiles of the source's own resolution. */
async function paintFull(stroke: Stroke, size: { width: number; height: number }, read: TileReader): Promise<Map<string, Uint8Array>> {
  const radius = stroke.size / 2;
  const at = touches(stroke);
  const byTile = new Map<string, { x: number; y: number; touches: StrokePoint[] }>();
  const last = { x: Math.ceil(size.width / TILE) - 1, y: Math.ceil(size.height / TILE) - 1 };
  for (const touch of at) {
    for (
      let y = Math.max(0, Math.floor((touch.y - radius - 1) / TILE));
      y <= Math.min(last.y, Math.floor((touch.y + radius + 1) / TILE));
      y++
    ) {
      for (
        let x = Math.max(0, Math.floor((touch.x - radius - 1) / TILE));
        x <= Math.min(last.x, Math.floor((touch.x + radius + 1) / TILE));
        x++
      ) {
        const name = tileName(0, x, y);
        const entry = byTile.get(name) ?? { x, y, touches: [] };
        entry.touches.push(touch);
        byTile.set(name, entry);
      }
    }
  }
  const changed = new Map<string, Uint8Array>();
  for (const [name, { x, y, touches: own }] of byTile) {
    const values = Float32Array.from((await read(name)) ?? new Uint8Array(TILE * TILE));
    for (const touch of own) dab(values, { ...touch, x: touch.x - x * TILE, y: touch.y - y * TILE }, radius, stroke);
    changed.set(name, Uint8Array.from(values, Math.round));
  }
  return changed;
}

function dab(values: Float32Array, { x, y, pressure }: StrokePoint, radius: number, { softness, flow, mode }: Stroke): void {
  const reach = radius + 1;
  for (let row = Math.max(0, Math.floor(y - reach)); row < Math.min(TILE, Math.ceil(y + reach)); row++) {
    for (let column = Math.max(0, Math.floor(x - reach)); column < Math.min(TILE, Math.ceil(x + reach)); column++) {
      const share = flow * pressure * coverage(Math.hypot(column + 0.5 - x, row + 0.5 - y), radius, softness);
      const i = row * TILE + column;
      values[i] += ((mode === 'add' ? 255 : 0) - values[i]) * share;
    }
  }
}

/** The tiles of a level over those that changed on the one below: means of four pixels. */
async function halve(level: number, changed: Map<string, Uint8Array>, read: TileReader): Promise<void> {
  const places = new Set<string>();
  for (const name of changed.keys()) {
    const [of, x, y] = name.split(/[/,]/).map(Number);
    if (of === level - 1) places.add(`${x >> 1},${y >> 1}`);
  }
  for (const place of places) {
    const [x, y] = place.split(',').map(Number);
    const out = new Uint8Array(TILE * TILE);
    for (const [dx, dy] of [
      [0, 0],
      [1, 0],
      [0, 1],
      [1, 1],
    ]) {
      const name = tileName(level - 1, 2 * x + dx, 2 * y + dy);
      const from = changed.get(name) ?? (await read(name));
      if (from) quarter(from, out, dx, dy);
    }
    changed.set(tileName(level, x, y), out);
  }
}

function quarter(from: Uint8Array, out: Uint8Array, dx: number, dy: number): void {
  const half = TILE / 2;
  for (let y = 0; y < half; y++) {
    for (let x = 0; x < half; x++) {
      const i = 2 * y * TILE + 2 * x;
      const mean = (from[i] + from[i + 1] + from[i + TILE] + from[i + TILE + 1] + 2) >> 2;
      out[(dy * half + y) * TILE + dx * half + x] = mean;
    }
  }
}
