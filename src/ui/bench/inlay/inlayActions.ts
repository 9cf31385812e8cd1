import { HELD_BY, inlayToSource, placeHeld, type InlayPlace, type InlayShape } from '../../../shared/inlay';
import { pointAt } from '../../../shared/maps/place';
import type { PlanStep } from '../../../shared/plan';
import type { TreatmentInfo } from '../../../archive';

interface Point {
  x: number;
  y: number;
}

interface Size {
  width: number;
  height: number;
}

/** The settings of a step that say what is laid where, by what they are for. */
type Placing = NonNullable<TreatmentInfo['placing']>;

/** What a step lays in, and where. */
export interface LaidIn {
  picture: string;
  shape: InlayShape;
  place: InlayPlace;
}

export function laidIn({ settings }: PlanStep, placing: Placing): LaidIn {
  const number = (key: string): number => Number(settings[key]);
  return {
    picture: typeof settings[placing.picture] === 'string' ? (settings[placing.picture] as string) : '',
    shape: settings[placing.shape] === 'oval' ? 'oval' : 'whole',
    place: { x: number(placing.x), y: number(placing.y), width: number(placing.width), turn: number(placing.turn) },
  };
}

const short = (v: number): number => Number(v.toFixed(3));

/** A place as the settings hold it. */
export const placeSettings = ({ x, y, width, turn }: InlayPlace, placing: Placing): Record<string, number> => ({
  [placing.x]: short(x),
  [placing.y]: short(y),
  [placing.width]: short(Math.max(1, width)),
  [placing.turn]: short(turn),
});

/** Share of the source's width that a picture takes at first. */
const AT_FIRST = 0.5;

/** Where a picture is laid at first: in the middle, upright, all of it to be seen. */
export const placeAtFirst = (laid: Size, source: Size): InlayPlace => ({
  ...{ x: source.width / 2, y: source.height / 2, turn: 0 },
  width: Math.min(AT_FIRST * source.width, (AT_FIRST * source.height * laid.width) / laid.height),
});

/** Points of a picture that is laid in, in pixels of the source: what it is held by, then its corners from the upper left one clockwise. */
export function outlineOf({ shape, place }: LaidIn, laid: Size): { held: Point[]; corners: Point[] } {
  const map = inlayToSource(place, laid);
  const at = ({ x, y }: Point): Point => pointAt(map, x * laid.width, y * laid.height);
  const corners = [
    { x: 0, y: 0 },
    { x: 1, y: 0 },
    { x: 1, y: 1 },
    { x: 0, y: 1 },
  ];
  return { held: HELD_BY[shape].map(at), corners: corners.map(at) };
}

/** Where a picture comes to lie once one of the two points it is held by is moved; the other stays. @param to in pixels of the source. */
export function withHeld(laidIn: LaidIn, laid: Size, index: number, to: Point): InlayPlace {
  const { held } = outlineOf(laidIn, laid);
  const [one, other] = held.with(index, to);
  // Both in one place say nothing.
  return Math.hypot(one.x - other.x, one.y - other.y) < 1 ? laidIn.place : placeHeld(HELD_BY[laidIn.shape], [one, other], laid);
}

/** The place of whose middle a point is nearest; undefined of none. */
export const nearestPlace = (places: readonly InlayPlace[], { x, y }: Point): InlayPlace | undefined =>
  places.toSorted((a, b) => Math.hypot(a.x - x, a.y - y) - Math.hypot(b.x - x, b.y - y)).at(0);
