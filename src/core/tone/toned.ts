import { LRUCache } from 'lru-cache';
import { type ToneOptions, tonePixels, toneStops } from '../kernels/tone';
import { codes, fromRgbMatrix, toRgbMatrix } from '../picture/matrix';
import { cutPicture, type Picture, type Region, type Transfer } from '../picture/picture';
import { aroundBorder, aroundOf, formRadius } from './around';
import { curveTable } from './curve';
import { isNothing, isStraight, layerStops, readsAround, type Layer, type Look } from './look';
import { DARKEST, FINE, stopTables } from './stops';

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
  const options = toneOptions(source, look);
  const moved = readsAround(look) ? movedByPlace(toneStops(options), source, look) : undefined;
  const planes = tonePixels(options, region, moved).map((data) => ({ width: region.width, height: region.height, data }));
  return { info: source.info, region, planes };
}

/** Tables of the layers last asked for: the parts of a picture ask for the same ones. */
const knownTables = new LRUCache<string, Float32Array>({ max: 8 });

/** Stops that each code becomes in a layer. */
function layerTable(layer: Layer, transfer: Transfer): Float32Array {
  const name = `${transfer} ${JSON.stringify(layer)}`;
  const table = knownTables.get(name) ?? stopTables(transfer).ofCode.map((stops) => layerStops(layer, stops));
  knownTables.set(name, table);
  return table;
}

/** A look as tables: each colour through its layer, and what stops become in the end, the curve included. */
function toneOptions({ info, region, planes }: Picture, { layers, curve, uneven, strength, pale }: Look): ToneOptions {
  const { codes: plain } = stopTables(info.colour.transfer);
  const { black, luma, chroma } = codes(info.colour.range);
  const bent = isStraight(curve) ? undefined : curveTable(curve);
  return {
    ...{ planes, place: region, frame: info, black, span: luma, chromaSpan: chroma },
    ...{ rgb: toRgbMatrix(info.colour.matrix), matrix: fromRgbMatrix(info.colour.matrix) },
    tables: (planes.length > 1 ? layers : [meanLayer(layers)]).map((layer) => layerTable(layer, info.colour.transfer)),
    codes: bent ? plain.map((code) => bent[code]) : plain,
    ...{ darkest: DARKEST, fine: FINE, uneven, strength, pale, strongFrom: STRONG * 65535 },
  };
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

/** Stops by which each pixel is moved for what is round it. @param stops its lightness. */
function movedByPlace(stops: Float32Array, { info, region }: Picture, look: Look): Float32Array {
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
