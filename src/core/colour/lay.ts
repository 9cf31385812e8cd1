import { layChroma } from '../kernels/lay';
import { codes, fromRgbMatrix, toRgbMatrix } from '../picture/matrix';
import { cutPlane, NEUTRAL_CHROMA, type Picture, type Plane, planeRegion, type Region, type StreamInfo } from '../picture/picture';
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
 * A picture's luma to the last bit, and chroma laid over it: each sample takes the colours of those places round it on the small raster that are as
 * light as it is (joint bilateral upsampling; Kopf and others, 2007). Colours a tinted picture has of its own stay. No colour takes red, green or blue
 * beyond what there is: it is paler there.
 *
 * @param source covers the region.
 * @param output as the source, with three planes.
 * @param how `weight`: how much of the colours is laid over the picture's own, 0 to 1; `unbound`: whether colours go beyond what there is, for `madeRoom`.
 */
export function layColours(
  source: Picture,
  region: Region,
  output: StreamInfo,
  tones: Tones,
  colours: Colours,
  { weight, unbound = false }: { weight: number; unbound?: boolean },
): Picture {
  const { info } = source;
  const { black, luma: span, chroma: chromaSpan } = codes(info.colour.range);
  const cut = (index: number): Plane => {
    const own = planeRegion(info, index, source.region),
      wanted = planeRegion(info, index, region);
    return cutPlane(source.planes[index], wanted.x - own.x, wanted.y - own.y, wanted.width, wanted.height);
  };
  const light = cut(0);
  const chroma = planeRegion(output, 1, region);
  const { width, height, luma, kept } = tones;
  const made = layChroma({
    raster: { width, height, cb: colours.cb, cr: colours.cr, luma, ...(tones.own === 'tinted' && { kept }) },
    ...{
      light: unbound ? neverPure(light, black, span) : light,
      frame: info,
      chroma,
      across: 1 << output.chromaShiftX,
      down: 1 << output.chromaShiftY,
    },
    ...(info.planes === 3 && { own: [cut(1), cut(2)] as [Plane, Plane] }),
    ...{ alike, least: LEAST, black, span, chromaSpan, shade: SHADE, weight, room: unbound ? UNBOUND : ROOM },
    rgb: toRgbMatrix(info.colour.matrix).map(([, b, r]) => [b, r]),
    matrix: fromBt601(info),
  });
  return { info: output, region, planes: [light, ...made.map((data) => ({ width: chroma.width, height: chroma.height, data }))] };
}

/** Rows that make Cb and Cr of a stream of those of BT.601. */
function fromBt601({ colour: { matrix } }: StreamInfo): number[][] {
  const to = fromRgbMatrix(matrix),
    from = toRgbMatrix('bt601');
  return [1, 2].map((row) => [1, 2].map((column) => to[row].reduce((sum, v, c) => sum + v * from[c][column], 0)));
}

/** Times the room there is that colours may take where they are not bound by it, and the least share of light and of dark that there then is. */
const UNBOUND = 1000,
  LEAST_LIGHT = 0.02;

/** Lightness without what has no room at all. */
function neverPure({ width, height, data }: Plane, black: number, span: number): Plane {
  const [low, high] = [black + LEAST_LIGHT * span, black + (1 - LEAST_LIGHT) * span];
  return { width, height, data: data.map((v) => Math.min(high, Math.max(low, v))) };
}

/** A coloured picture whose lightness gives way where its colours go beyond what there is: as little as need be. */
export function madeRoom(picture: Picture): Picture {
  const { info, region, planes } = picture;
  const [light, cb, cr] = planes;
  const { black, luma: span, chroma: chromaSpan } = codes(info.colour.range);
  const rows = toRgbMatrix(info.colour.matrix);
  const own = planeRegion(info, 1, region);
  const made = light.data.slice();
  for (let y = 0; y < light.height; y++)
    for (let x = 0; x < light.width; x++) {
      const at = (((region.y + y) >> info.chromaShiftY) - own.y) * own.width + ((region.x + x) >> info.chromaShiftX) - own.x;
      const b = (cb.data[at] - NEUTRAL_CHROMA) / chromaSpan,
        r = (cr.data[at] - NEUTRAL_CHROMA) / chromaSpan;
      const off = rows.map((row) => row[1] * b + row[2] * r);
      const low = -Math.min(...off),
        high = 1 - Math.max(...off);
      const i = y * light.width + x;
      const value = (light.data[i] - black) / span;
      const held = low > high ? (low + high) / 2 : Math.min(high, Math.max(low, value));
      if (held !== value) made[i] = Math.round(black + span * Math.min(1, Math.max(0, held)));
    }
  return { info, region, planes: [{ ...light, data: made }, cb, cr] };
}
