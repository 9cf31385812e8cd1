import type { StrokeMark } from '../../shared/marks';
import { carryPlaces } from '../film/carry';
import { shotOf } from '../film/motion';
import type { FilmColours } from './film';
import { PLACELESS, type Things, unlike } from './things';

/** A place of another shot that looks like what is marked. */
export interface AlikePlace {
  /** Of the source, with the place in its pixels. */
  frame: number;
  x: number;
  y: number;
  /** 1 for the same, 0 for what is just like enough to be told. */
  alike: number;
}

/** How unlike, squared, a place is at the most, and how much more its shot must be on the whole: what is everywhere is told nowhere. */
const MOST = 0.02,
  STANDS_OUT = 0.12;

/**
 * Where other shots of a film show what is marked: in each of them the place that is most like it, at the shot's first look.
 *
 * @param mark of one frame; the middle of its path counts.
 * @returns the likest first.
 */
export function alikePlaces({ motion, keys }: FilmColours, mark: StrokeMark): AlikePlace[] {
  const frame = mark.frame ?? 0;
  const { first, last } = shotOf(motion, frame);
  const told = keys.flatMap(({ frame: n, things }) => (things ? [{ frame: n, things }] : []));
  const own = told
    .filter((key) => key.frame >= first && key.frame <= last)
    .reduce<(typeof told)[number] | undefined>((a, b) => (a && Math.abs(a.frame - frame) <= Math.abs(b.frame - frame) ? a : b), undefined);
  if (!own) return [];
  const { x, y } = mark.points[Math.floor(mark.points.length / 2)];
  const there = carryPlaces(motion, frame, own.frame, { x: Float32Array.of(x), y: Float32Array.of(y) });
  if (!there) return [];
  const { width, height } = motion;
  const from = placeIn(own.things, there.x[0] / width, there.y[0] / height);
  return motion.shots
    .filter((shot) => shot !== first)
    .flatMap((shot) => {
      const key = told.find((k) => k.frame === shot);
      if (!key) return [];
      const { things } = key;
      const { at, least, mean } = nearest(own.things, from, things);
      if (least > MOST || mean < least + STANDS_OUT) return [];
      const [column, row] = [at % things.width, Math.floor(at / things.width)];
      const alike = 1 - least / MOST;
      return [
        {
          frame: shot,
          x: Math.round(((column + 0.5) * width) / things.width),
          y: Math.round(((row + 0.5) * height) / things.height),
          alike,
        },
      ];
    })
    .sort((a, b) => b.alike - a.alike);
}

/** The place of a raster at fractions of the frame. */
function placeIn({ width, height }: Things, u: number, v: number): number {
  const within = (part: number, size: number): number => Math.min(size - 1, Math.max(0, Math.floor(part * size)));
  return within(v, height) * width + within(u, width);
}

/** The place that is likest, how unlike it is, and how unlike all are in the mean. */
function nearest(own: Things, from: number, { width, height, figures }: Things): { at: number; least: number; mean: number } {
  let at = 0,
    least = Infinity,
    sum = 0;
  for (let i = 0; i < width * height; i++) {
    const apart = unlike(own.figures, from, figures, i, Infinity, PLACELESS);
    sum += apart;
    if (apart >= least) continue;
    least = apart;
    at = i;
  }
  return { at, least, mean: sum / (width * height) };
}
