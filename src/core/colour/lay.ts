import { codes, fromRgbMatrix, toRgbMatrix } from '../picture/matrix';
import { cutPlane, newPlane, NEUTRAL_CHROMA, type Picture, planeRegion, type Region, type StreamInfo } from '../picture/picture';
import { type Colours, SHADE } from './colours';
import type { Tones } from './tones';

/** Codes of lightness apart at which a place of the raster counts a third of what one as light does. */
const ALIKE = 10;
const alike = Float32Array.from({ length: 256 }, (_, off) => Math.exp(-((off / ALIKE) ** 2)));
/** Share of what there is that colours take at most: enlarged, their light and dark go a little further. */
const ROOM = 0.8;
/** What a place counts at the least in nearness and in lightness, so that there is always something. */
const LEAST = 1e-3;

/**
 * A still's luma to the last bit, and chroma laid over it: each sample takes the colours of those places round it on the small raster that are as
 * light as it is (joint bilateral upsampling; Kopf and others, 2007). Colours a tinted picture has of its own stay. No colour takes red, green or blue
 * beyond what there is: it is paler there.
 *
 * @param source covers the region.
 * @param output as the source, with three planes.
 * @param weight how much of the colours is laid over the picture's own, 0 to 1.
 */
export function layColours(source: Picture, region: Region, output: StreamInfo, tones: Tones, colours: Colours, weight: number): Picture {
  const { info } = source;
  const { black, luma: span, chroma } = codes(info.colour.range);
  const own = planeRegion(info, 0, source.region),
    wanted = planeRegion(output, 1, region);
  const ownChroma = planeRegion(info, 1, source.region);
  const [light, ownCb, ownCr] = source.planes;
  const cb = newPlane(wanted.width, wanted.height, NEUTRAL_CHROMA),
    cr = newPlane(wanted.width, wanted.height, NEUTRAL_CHROMA);
  const limit = gamutLimit(info);
  const lightness = (code: number): number => Math.min(1, Math.max(0, (code - black) / span));
  const [[bb, br], [rb, rr]] = fromBt601(info);
  const across = 1 << output.chromaShiftX,
    down = 1 << output.chromaShiftY;
  const right = region.x + region.width,
    bottom = region.y + region.height;
  const { luma: levels, kept } = tones;
  const tinted = tones.own === 'tinted';
  const single = across * down === 1;
  const lefts = new Int32Array(wanted.width),
    fars = new Int32Array(wanted.width),
    besides = new Float32Array(wanted.width);
  for (let x = 0; x < wanted.width; x++)
    [lefts[x], fars[x], besides[x]] = between(((wanted.x + x) * across + across / 2) / info.width, tones.width);
  for (let y = 0; y < wanted.height; y++) {
    const py = (wanted.y + y) * down;
    const [top, low, below] = between((py + down / 2) / info.height, tones.height);
    for (let x = 0; x < wanted.width; x++) {
      const px = (wanted.x + x) * across;
      let sum = 0,
        count = 0,
        least = 65535,
        most = 0;
      if (single) {
        sum = least = most = light.data[(py - own.y) * own.width + px - own.x];
        count = 1;
      } else
        for (let v = py; v < Math.min(bottom, py + down); v++)
          for (let u = px; u < Math.min(right, px + across); u++) {
            const sample = light.data[(v - own.y) * own.width + u - own.x];
            sum += sample;
            least = Math.min(least, sample);
            most = Math.max(most, sample);
            count++;
          }
      const luma = lightness(sum / count);
      const code = 255 * luma;
      const left = lefts[x],
        far = fars[x],
        beside = besides[x];
      let placeB = 0,
        placeR = 0,
        stays = 0,
        all = 0;
      for (let k = 0; k < 4; k++) {
        const i = (k < 2 ? top : low) * tones.width + (k & 1 ? far : left);
        const near = (k < 2 ? 1 - below : below) * (k & 1 ? beside : 1 - beside);
        const part = (LEAST + near) * (LEAST + alike[Math.round(Math.abs(levels[i] - code))]);
        placeB += part * colours.cb[i];
        placeR += part * colours.cr[i];
        if (tinted) stays += part * kept[i];
        all += part;
      }
      const shade = (luma + SHADE) / (255 * all);
      const b = shade * (bb * placeB + br * placeR),
        r = shade * (rb * placeB + rr * placeR);
      // What is within bounds at the darkest and the lightest pixel of a sample is so at all of them.
      const held = Math.min(limit(lightness(least), b, r), most > least ? limit(lightness(most), b, r) : 1) * chroma;
      const weighed = weight * (1 - stays / (255 * all));
      const to = y * wanted.width + x,
        from = (wanted.y + y - ownChroma.y) * ownChroma.width + wanted.x + x - ownChroma.x;
      const beforeB = ownCb ? ownCb.data[from] - NEUTRAL_CHROMA : 0,
        beforeR = ownCr ? ownCr.data[from] - NEUTRAL_CHROMA : 0;
      cb.data[to] = Math.round(NEUTRAL_CHROMA + beforeB + weighed * (held * b - beforeB));
      cr.data[to] = Math.round(NEUTRAL_CHROMA + beforeR + weighed * (held * r - beforeR));
    }
  }
  return { info: output, region, planes: [cutPlane(light, region.x - own.x, region.y - own.y, region.width, region.height), cb, cr] };
}

/** The places of a raster of `size` before and after a place (0 to 1 of the whole), and how far it lies beyond the first. */
function between(at: number, size: number): [number, number, number] {
  const place = Math.min(size - 1, Math.max(0, at * size - 0.5));
  const before = Math.floor(place);
  return [before, Math.min(size - 1, before + 1), place - before];
}

/** Rows that make Cb and Cr of a stream of those of BT.601. */
function fromBt601({ colour: { matrix } }: StreamInfo): number[][] {
  const to = fromRgbMatrix(matrix),
    from = toRgbMatrix('bt601');
  return [1, 2].map((row) => [1, 2].map((column) => to[row].reduce((sum, v, c) => sum + v * from[c][column], 0)));
}

/** How much of a chroma (parts of one) a luma from 0 to 1 takes before red, green or blue would leave 0 to 1. */
function gamutLimit({ colour: { matrix } }: StreamInfo): (luma: number, cb: number, cr: number) => number {
  const rows = toRgbMatrix(matrix);
  const [red, green, blue] = rows.map(([, b, r]) => ({ b, r }));
  const one = (off: number, luma: number): number => Math.min(1, (ROOM * (off > 0 ? 1 - luma : luma)) / Math.max(1e-6, Math.abs(off)));
  return (luma, cb, cr) =>
    Math.min(one(red.b * cb + red.r * cr, luma), one(green.b * cb + green.r * cr, luma), one(blue.b * cb + blue.r * cr, luma));
}
