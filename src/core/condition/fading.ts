import { LUMA_WEIGHTS, toRgbPlanes } from '../picture/matrix';
import { NEUTRAL_CHROMA, newPlane, wholeRegion, type Picture } from '../picture/picture';
import { WHITE_STOPS, unevenAt, type UnevenLight } from '../tone/look';
import { stopTables } from '../tone/stops';
import { paperOf, SIDE, type Thumbnail } from './paper';

/** How far a print has faded, told by the white of its own border. */
export interface Fading {
  /** Density of the dyes that hold back red, green and blue, against what it was. */
  left: [number, number, number];
  /** Stops that the paper, or the light it was taken in, keeps back of red, green and blue. */
  base: [number, number, number];
  /** Light that falls off over the picture, as it is to be given back. */
  uneven: UnevenLight;
}

/** Stops of the deepest black of a picture in good state; found by trying on photographs with made fading. */
const DEEPEST = -7.6;
/** Share of the pixels that are its darkest. */
const DARKEST = 0.003;
/**
 * How far the darkest place is believed: for what the three dyes have in common, since not every picture has a black in it, and for how they
 * differ, since not every black is without colour; found likewise.
 */
const IN_COMMON = 0.8,
  APART = 0.9;
/** A dye that has lost no more than this may have lost nothing: darkest places differ by as much. */
const DOUBTED = 0.16;
/** Density that is left at most and at least. */
const LEFT = { least: 0.3, most: 1.3 };
/** Stops of density that are read at least: less is no picture. */
const LEAST_DENSITY = 0.3;

/** The fading of a print whose border of white paper is on the picture; undefined where no border is found. */
export function measureFading(picture: Picture): Fading | undefined {
  const small = thumbnail(picture);
  const paper = paperOf(small);
  if (!paper) return undefined;
  const { stops, width, height } = small;
  const even = stops.map((plane) =>
    plane.map(
      (v, i) => v + unevenAt(paper.uneven, (2 * ((i % width) + 0.5)) / width - 1, (2 * (Math.floor(i / width) + 0.5)) / height - 1),
    ),
  );
  const density = darkest(even).map((dark, c) => Math.max(LEAST_DENSITY, paper.stops[c] - dark));
  const common = Math.cbrt(density[0] * density[1] * density[2]);
  const overall = Math.min(1, (common / (WHITE_STOPS - DEEPEST)) ** IN_COMMON);
  const read = density.map((d) => Math.min(LEFT.most, Math.max(LEFT.least, overall * (d / common) ** APART)));
  const left = read.some((share) => share < 1 - DOUBTED) ? read : [1, 1, 1];
  const mean = (left[0] + left[1] + left[2]) / 3;
  const { across, down, corners } = paper.uneven;
  return {
    left: left as Fading['left'],
    base: left.map((share, c) => WHITE_STOPS * share - paper.stops[c]) as Fading['base'],
    // What is evened comes after what is unfaded, which spreads light as it spreads the rest.
    uneven: { across: across / mean, down: down / mean, corners: corners / mean },
  };
}

/** Mean stops of the darkest pixels. */
function darkest(stops: Float32Array[]): number[] {
  const order = Array.from(stops[0].keys()).sort(
    (a, b) => stops[0][a] + stops[1][a] + stops[2][a] - stops[0][b] - stops[1][b] - stops[2][b],
  );
  const taken = order.slice(0, Math.max(8, Math.floor(order.length * DARKEST)));
  return stops.map((plane) => taken.reduce((sum, i) => sum + plane[i], 0) / taken.length);
}

/** Pixels of a picture that are looked at; of larger ones every few of a row, and of the rows. */
const MAX_PIXELS = 2_000_000;

/** Red, green and blue in stops and luma in codes of 255, each the mean of its part of the picture. */
function thumbnail(picture: Picture): Thumbnail {
  const { red, green, blue } = toRgbPlanes(thinned(picture));
  const { width: wide, height: high } = thinnedSize(picture);
  const { ofCode } = stopTables(picture.info.colour.transfer);
  const scale = Math.min(1, SIDE / Math.max(wide, high));
  const width = Math.max(1, Math.round(wide * scale)),
    height = Math.max(1, Math.round(high * scale));
  const means = [red, green, blue].map((plane) => {
    const out = new Float32Array(width * height);
    for (let y = 0; y < height; y++) {
      const top = Math.floor((y * high) / height),
        bottom = Math.floor(((y + 1) * high) / height);
      for (let x = 0; x < width; x++) {
        const left = Math.floor((x * wide) / width),
          right = Math.floor(((x + 1) * wide) / width);
        let sum = 0;
        for (let row = top; row < bottom; row++) for (let i = left; i < right; i++) sum += plane[row * wide + i];
        out[y * width + x] = sum / ((right - left) * (bottom - top));
      }
    }
    return out;
  });
  const weights = LUMA_WEIGHTS[picture.info.colour.matrix];
  const luma = means[0].map(
    (r, i) => (weights.red * r + (1 - weights.red - weights.blue) * means[1][i] + weights.blue * means[2][i]) / 257,
  );
  return { width, height, luma, stops: means.map((plane) => plane.map((v) => ofCode[Math.round(v)])) };
}

const strideOf = ({ region }: Picture): number => Math.ceil(Math.sqrt((region.width * region.height) / MAX_PIXELS));

function thinnedSize(picture: Picture): { width: number; height: number } {
  const stride = strideOf(picture);
  return { width: Math.ceil(picture.region.width / stride), height: Math.ceil(picture.region.height / stride) };
}

/** A picture, or every few of its pixels, with chroma for each. */
function thinned(picture: Picture): Picture {
  const { info, planes } = picture;
  const stride = strideOf(picture),
    { width, height } = thinnedSize(picture);
  const taken = planes.map((plane, index) => {
    const out = newPlane(width, height);
    const shiftX = index ? info.chromaShiftX : 0,
      shiftY = index ? info.chromaShiftY : 0;
    for (let y = 0; y < height; y++) {
      const row = ((y * stride) >> shiftY) * plane.width;
      for (let x = 0; x < width; x++) out.data[y * width + x] = plane.data[row + ((x * stride) >> shiftX)];
    }
    return out;
  });
  while (taken.length < 3) taken.push(newPlane(width, height, NEUTRAL_CHROMA));
  const thin = { ...info, width, height, planes: 3 as const, chromaShiftX: 0, chromaShiftY: 0 };
  return { info: thin, region: wholeRegion(thin), planes: taken };
}
