import type { CurvePoint } from './curve';

/** A colour as a setting holds it: red, green and blue of 16 bits each. */
export const COLOUR = /^(#[0-9a-f]{12})?$/;

/** Red, green and blue, 0 to 65535, of a colour that is there. */
export const colourParts = (colour: string): [number, number, number] =>
  [1, 5, 9].map((from) => parseInt(colour.slice(from, from + 4), 16)) as [number, number, number];

export const colourOf = (parts: readonly number[]): string =>
  `#${parts
    .map((v) =>
      Math.min(65535, Math.max(0, Math.round(v)))
        .toString(16)
        .padStart(4, '0'),
    )
    .join('')}`;

/** A picture laid into a step, by the SHA-256 it is kept under; empty where none is chosen. */
export const LAID_PICTURE = /^([0-9a-f]{64})?$/;

const NUMBER = '(?:0|1|0\\.\\d{1,4})';
/** A curve as a setting holds it: points of a square of side 1, its left and lower edge 0. */
export const CURVE = new RegExp(`^(?:${NUMBER},${NUMBER}(?: ${NUMBER},${NUMBER}){1,11})?$`);

/** Points of a curve, from left to right; none for a straight line. */
export const curvePoints = (curve: string): CurvePoint[] =>
  curve
    .split(' ')
    .filter(Boolean)
    .map((point) => {
      const [x, y] = point.split(',').map(Number);
      return { x, y };
    })
    .sort((a, b) => a.x - b.x);

export function curveOf(points: readonly CurvePoint[]): string {
  const short = (v: number): string => String(Number(Math.min(1, Math.max(0, v)).toFixed(4)));
  return points.map(({ x, y }) => `${short(x)},${short(y)}`).join(' ');
}

/** Four corners, from the upper left one clockwise, in fractions of a picture; a little beyond its edges too. */
export type Corners = readonly [CurvePoint, CurvePoint, CurvePoint, CurvePoint];

const PLACE = '-?[01](?:\\.\\d{1,5})?';
/** Corners as a setting holds them; empty for those of the picture. */
export const CORNERS = new RegExp(`^(?:${PLACE},${PLACE}(?: ${PLACE},${PLACE}){3})?$`);

const WHOLE: Corners = [
  { x: 0, y: 0 },
  { x: 1, y: 0 },
  { x: 1, y: 1 },
  { x: 0, y: 1 },
];

export function cornersOf(corners: string): Corners {
  if (!corners) return WHOLE;
  return corners.split(' ').map((point) => {
    const [x, y] = point.split(',').map(Number);
    return { x, y };
  }) as unknown as Corners;
}

export function cornersText(corners: readonly CurvePoint[]): string {
  const short = (v: number): string => String(Number(Math.min(1.5, Math.max(-0.5, v)).toFixed(5)));
  return corners.map(({ x, y }) => `${short(x)},${short(y)}`).join(' ');
}

/** What is known of a setting that is written in words. */
interface Shown {
  kind: string;
  unit?: string;
  options?: { value: string; label: string }[];
}

/** A setting's value as it is written in words: a choice by its label, a number with its unit. */
export function shownValue(spec: Shown | undefined, value: unknown): string {
  if (typeof value === 'boolean') return value ? 'on' : 'off';
  if (spec?.kind === 'colour' && typeof value === 'string') {
    const codes = value ? colourParts(value).map((v) => Math.round(v / 257)) : undefined;
    return codes?.join(' ') ?? 'none';
  }
  if (spec?.kind === 'picture' && typeof value === 'string') return value ? `picture ${value.slice(0, 8)}` : 'none';
  if (spec?.kind === 'faces' && typeof value === 'string') return value ? `${value.split(' ').length} set by hand` : 'all alike';
  if (spec?.kind === 'references' && typeof value === 'string') return value ? `for ${value.split(' ').length}` : 'none';
  if (spec?.kind === 'corners') return value ? 'set' : 'those of the picture';
  if (spec?.kind === 'curve' && typeof value === 'string') return value ? `of ${curvePoints(value).length} points` : 'straight';
  const label = spec?.options?.find((o) => o.value === value)?.label;
  return label ?? `${String(value)}${spec?.kind === 'number' && spec.unit ? ` ${spec.unit}` : ''}`;
}
