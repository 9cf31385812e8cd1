import type { Picture } from '../picture/picture';
import { toRgbPlanes } from '../picture/matrix';
import { colourOf } from '../../shared/settings';
import { WHITE_STOPS, type Look } from './look';
import { stopsOf } from './points';
import type { Transfer } from '../picture/picture';

/** Stops that lie between the clear film and its densest place at least: less is no picture. */
const LEAST_RANGE = 0.4;
/** Shares of the pixels that are clearer than the film is and denser than its picture: dust and scratches. */
const OUTLIERS = 0.004;
/** Pixels that are looked at. */
const LOOKED = 250_000;

/** Clear film, where no light fell, and its densest place, where white was; as settings hold colours. */
export interface FilmEnds {
  clear: string;
  dense: string;
}

/** What a negative's own picture says of its ends: those of its brightest and darkest codes that are no outliers, in each colour. */
export function filmEnds(picture: Picture): FilmEnds {
  const colours = coloursOf(picture);
  const at = (rank: number): string => colourOf(colours.map((codes) => codes[Math.round(rank * (codes.length - 1))]));
  return { clear: at(1 - OUTLIERS), dense: at(OUTLIERS) };
}

/** Sorted codes of some of a picture's pixels, red, green and blue. */
function coloursOf(picture: Picture): Uint16Array[] {
  const { width, height } = picture.region;
  const stride = Math.max(1, Math.floor(Math.sqrt((width * height) / LOOKED)));
  const taken = (plane: Uint16Array, planeWidth: number, shiftX: number, shiftY: number): Uint16Array => {
    const out: number[] = [];
    for (let y = 0; y < height; y += stride)
      for (let x = 0; x < width; x += stride) out.push(plane[(y >> shiftY) * planeWidth + (x >> shiftX)]);
    return Uint16Array.from(out);
  };
  const { info, planes } = picture;
  const [y, cb, cr] = planes.map((plane, i) => taken(plane.data, plane.width, i ? info.chromaShiftX : 0, i ? info.chromaShiftY : 0));
  if (planes.length === 1) return [y.sort(), y, y];
  const thin = { ...info, width: y.length, height: 1, chromaShiftX: 0, chromaShiftY: 0 };
  const [luma, blue, red] = [y, cb, cr].map((data) => ({ width: data.length, height: 1, data }));
  const rgb = toRgbPlanes({ info: thin, region: { x: 0, y: 0, width: y.length, height: 1 }, planes: [luma, blue, red] });
  return [rgb.red.sort(), rgb.green.sort(), rgb.blue.sort()];
}

/** Stops of density that a stop of light adds to film of usual development. */
const DEVELOPED = 0.6;

/**
 * Layers that turn a negative: its densest place becomes white, and the unlike contrasts of its layers one, so that the film's own colour goes.
 *
 * @param contrast of the result; 1 for film of usual development.
 */
export function positiveLayers({ clear, dense }: FilmEnds, contrast: number, transfer: Transfer): Look['layers'] {
  const light = stopsOf(clear, transfer),
    dark = stopsOf(dense, transfer);
  const ranges = light.map((from, c) => Math.max(LEAST_RANGE, from - dark[c]));
  const mean = Math.cbrt(ranges[0] * ranges[1] * ranges[2]);
  return ranges.map((range, c) => {
    const left = (-DEVELOPED * range) / mean / contrast;
    return { left, base: WHITE_STOPS * left - dark[c], shift: 0, bend: 0 };
  }) as Look['layers'];
}
