import { LUMA_WEIGHTS, codes, fromRgbMatrix, toRgbMatrix } from '../picture/matrix';
import { newPlane, NEUTRAL_CHROMA, type Picture, type Plane, type Region } from '../picture/picture';
import { cutPicture } from '../picture/picture';
import { aroundBorder, aroundOf, formRadius } from './around';
import { curveTable } from './curve';
import { isNothing, isStraight, layerStops, readsAround, unevenAt, type Look } from './look';
import { codeOf, stopTables } from './stops';

/** Where darks end and lights begin, in stops, and over how many stops they do. */
const DARKS_FROM = -3.2,
  LIGHTS_FROM = -2.4,
  OVER = 2.6;
/** The lightness large forms gather round when their contrast is changed, in stops: a middle grey. */
const MIDDLE = -2.5;
/** Chroma, 0 to 1, from which on a colour is strong. */
const STRONG = 0.25;

/** Pixels round a part that it depends on. */
export const tonedBorder = (look: Look, frame: { width: number; height: number }): number =>
  readsAround(look) ? aroundBorder(formRadius(frame)) : 0;

/**
 * A part of a picture in another look. Chroma has a sample for each pixel, or there is none.
 *
 * @param source holds `tonedBorder` pixels round the region, as far as the frame goes.
 */
export function toned(source: Picture, region: Region, look: Look): Picture {
  if (isNothing(look)) return cutPicture(source, region);
  const light = lightOf(source, look);
  const moved = readsAround(look) ? movedByPlace(light, source, look) : undefined;
  return back(source, region, light, look, moved);
}

/** Red, green and blue of a part in stops, each through its layer; luma alone stands for all of a monochrome one. */
function lightOf({ info, planes: [y, cb, cr] }: Picture, { layers }: Look): Float32Array[] {
  const { ofCode } = stopTables(info.colour.transfer);
  const { black, luma, chroma } = codes(info.colour.range);
  const gainY = 65535 / luma,
    gainC = 65535 / chroma;
  const tables = (cb ? layers : [meanLayer(layers)]).map((layer) => ofCode.map((stops) => layerStops(layer, stops)));
  const size = y.data.length;
  const out = tables.map(() => new Float32Array(size));
  const held = (v: number): number => (v <= 0 ? 0 : v >= 65535 ? 65535 : (v + 0.5) | 0);
  if (!cb) {
    for (let i = 0; i < size; i++) out[0][i] = tables[0][held((y.data[i] - black) * gainY)];
    return out;
  }
  const m = toRgbMatrix(info.colour.matrix);
  const rr = m[0][2],
    gb = m[1][1],
    gr = m[1][2],
    bb = m[2][1];
  const [red, green, blue] = out,
    [tr, tg, tb] = tables;
  for (let i = 0; i < size; i++) {
    const l = (y.data[i] - black) * gainY,
      b = (cb.data[i] - NEUTRAL_CHROMA) * gainC,
      r = (cr.data[i] - NEUTRAL_CHROMA) * gainC;
    red[i] = tr[held(l + rr * r)];
    green[i] = tg[held(l + gb * b + gr * r)];
    blue[i] = tb[held(l + bb * b)];
  }
  return out;
}

/** A monochrome picture has one layer: its dye is silver. */
const meanLayer = (layers: Look['layers']): Look['layers'][0] => {
  const mean = (key: keyof Look['layers'][0]): number => (layers[0][key] + layers[1][key] + layers[2][key]) / 3;
  return { left: mean('left'), base: mean('base'), shift: mean('shift'), bend: mean('bend') };
};

/** 0 below, 1 above, smooth between (Hermite). */
function smoothStep(from: number, to: number, v: number): number {
  const t = Math.min(1, Math.max(0, (v - from) / (to - from)));
  return t * t * (3 - 2 * t);
}

/** Stops by which each pixel is moved for what is round it. */
function movedByPlace(light: Float32Array[], { info, region }: Picture, look: Look): Float32Array {
  const { red, blue } = LUMA_WEIGHTS[info.colour.matrix];
  const weights = light.length === 1 ? [1] : [red, 1 - red - blue, blue];
  const stops = new Float32Array(light[0].length);
  light.forEach((plane, c) => plane.forEach((v, i) => (stops[i] += weights[c] * v)));
  const around = aroundOf(stops, region.width, region.height, formRadius(info));
  for (let i = 0; i < stops.length; i++) {
    const large = around[i],
      small = stops[i] - large;
    stops[i] =
      look.darks * (1 - smoothStep(DARKS_FROM - OVER, DARKS_FROM + OVER, large)) +
      look.lights * smoothStep(LIGHTS_FROM - OVER / 2, LIGHTS_FROM + OVER, large) +
      (look.large - 1) * (large - MIDDLE) +
      (look.small - 1) * small;
  }
  return stops;
}

/** The region as codes again: light that varies over the frame evened, the curve and the strength of colours last. */
function back(source: Picture, region: Region, light: Float32Array[], look: Look, moved: Float32Array | undefined): Picture {
  const { info } = source;
  const tables = stopTables(info.colour.transfer);
  const curve = isStraight(look.curve) ? undefined : curveTable(look.curve);
  const { black, luma, chroma } = codes(info.colour.range);
  const scaleY = luma / 65535,
    scaleC = chroma / 65535;
  const planes: Plane[] = source.planes.map(() => newPlane(region.width, region.height));
  const [y, cb, cr] = planes.map((plane) => plane.data);
  const [[yr, yg, yb], [br, bg, bb], [rr, rg, rb]] = fromRgbMatrix(info.colour.matrix);
  const held = (v: number): number => (v <= 0 ? 0 : v >= 65535 ? 65535 : (v + 0.5) | 0);
  const code = (stops: number): number => {
    const plain = codeOf(tables, stops);
    return curve ? curve[plain] : plain;
  };
  const even = look.uneven.across === 0 && look.uneven.down === 0 && look.uneven.corners === 0;
  const recolours = look.strength !== 1 || look.pale !== 1;
  for (let row = 0; row < region.height; row++) {
    const v = (2 * (region.y + row + 0.5)) / info.height - 1;
    let from = (region.y + row - source.region.y) * source.region.width + region.x - source.region.x;
    for (let x = 0, o = row * region.width; x < region.width; x++, o++, from++) {
      const by = (moved ? moved[from] : 0) + (even ? 0 : unevenAt(look.uneven, (2 * (region.x + x + 0.5)) / info.width - 1, v));
      if (!cb) {
        y[o] = held(black + scaleY * code(light[0][from] + by));
        continue;
      }
      const r = code(light[0][from] + by),
        g = code(light[1][from] + by),
        b = code(light[2][from] + by);
      let toBlue = br * r + bg * g + bb * b,
        toRed = rr * r + rg * g + rb * b;
      if (recolours) {
        const strong = Math.min(1, Math.hypot(toBlue, toRed) / (STRONG * 65535));
        const by = look.strength * (1 + (look.pale - 1) * (1 - strong));
        toBlue *= by;
        toRed *= by;
      }
      y[o] = held(black + scaleY * (yr * r + yg * g + yb * b));
      cb[o] = held(NEUTRAL_CHROMA + scaleC * toBlue);
      cr[o] = held(NEUTRAL_CHROMA + scaleC * toRed);
    }
  }
  return { info, region, planes };
}
