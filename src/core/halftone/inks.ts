import type { Picture, Plane } from '../picture/picture';
import { newPlane, NEUTRAL_CHROMA } from '../picture/picture';
import { toRgb } from '../picture/matrix';
import { findScreens, turnedBy, type Screen } from './screens';

/** Inks in the order in which the network reads their screens. */
export const INKS = ['black', 'cyan', 'magenta', 'yellow'] as const;
export type Ink = (typeof INKS)[number];

/** Degrees from black's screen to the others' where a print keeps to the usual angles (ISO 12647-2: 45, 15, 75 and 0). */
export const FROM_BLACK: Record<Ink, number> = { black: 0, cyan: -30, magenta: 30, yellow: -45 };

/** A screen, and the ink it was printed with. */
export interface InkScreen extends Screen {
  ink: Ink;
}

/** Two channels' screens within so many degrees are one ink's. */
const SAME_ANGLE = 2;
/** Periods of one print's screens differ by this share at most. */
const SAME_PERIOD = 0.04;
/** Decibels from which a channel's screens are believed beside one that was found. */
const STANDS_OUT = 14;
/** Chroma that grey prints reach, in codes of 255: mean distance from neutral. */
const GREY = 2.5;

/**
 * The screens of a print, each with its ink; black's first, and alone where the print is grey. Cyan is seen in red light, magenta in green,
 * yellow in blue, black in all three and in luma. None where luma shows no screen.
 *
 * @param picture a whole page, or a part of one that is at least 128 pixels wide and high.
 */
export function findInks(picture: Picture): InkScreen[] {
  const inLuma = findScreens(picture.planes[0]).filter((s) => s.strength >= STANDS_OUT);
  if (inLuma.length === 0) return [];
  if (isGrey(picture)) return [{ ...inLuma[0], ink: 'black' }];
  const found = [...channelsOf(picture).map(findScreens), inLuma];
  const strongest = found.map((screens) => screens.at(0)).filter((screen) => screen !== undefined);
  const period = middle(strongest.map((screen) => screen.period));
  if (period === undefined) return [];
  const channels = found.map((screens) => screens.filter((s) => s.strength >= STANDS_OUT && Math.abs(s.period / period - 1) < SAME_PERIOD));
  const black = blackOf(channels);
  const own = channels
    .slice(0, 3)
    .map((screens) => strongestSwing(screens.filter((s) => !black || turnedBy(s.angle, black.angle) > SAME_ANGLE)));
  const inks = [black, ...own].flatMap((screen, n): InkScreen[] => (screen ? [{ ...screen, ink: INKS[n] }] : []));
  // A page of one ink on toned paper is coloured too.
  return own.some((screen) => screen !== undefined) ? inks : inks.slice(0, 1);
}

/** The screen that most channels show, by how far it swings in them. */
function blackOf(channels: Screen[][]): Screen | undefined {
  const seen = (screen: Screen): Screen[] =>
    channels.flatMap((screens) => screens.filter((s) => turnedBy(s.angle, screen.angle) <= SAME_ANGLE).slice(0, 1));
  // An ink shows faintly in a channel it is not meant for; black swings in each about as far.
  const shown = (screen: Screen): number => {
    const swings = seen(screen).map((s) => s.swing);
    return swings.length < 2 ? 0 : Math.min(...swings) * swings.length;
  };
  const all = channels.flat().sort((a, b) => shown(b) - shown(a));
  return all.length && shown(all[0]) > 0 ? all[0] : undefined;
}

const strongestSwing = (screens: Screen[]): Screen | undefined => [...screens].sort((a, b) => b.swing - a.swing).at(0);

const middle = (values: number[]): number | undefined => [...values].sort((a, b) => a - b).at(values.length >> 1);

function isGrey({ planes: [, ...chroma] }: Picture): boolean {
  return chroma.every((plane) => {
    let sum = 0;
    for (const v of plane.data) sum += Math.abs(v - NEUTRAL_CHROMA);
    return sum / plane.data.length < GREY * 256;
  });
}

/** Red, green and blue at luma's places. */
function channelsOf(picture: Picture): Plane[] {
  const { width, height } = picture.planes[0];
  const rgb = toRgb(picture, 16);
  return [0, 1, 2].map((channel) => {
    const plane = newPlane(width, height);
    for (let i = 0; i < plane.data.length; i++) plane.data[i] = rgb[3 * i + channel];
    return plane;
  });
}
