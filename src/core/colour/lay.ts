import { layChroma } from '../kernels/lay';
import { codes, fromRgbMatrix, toRgbMatrix } from '../picture/matrix';
import { cutPlane, type Picture, type Plane, planeRegion, type Region, type StreamInfo } from '../picture/picture';
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
 * @param weight how much of the colours is laid over the picture's own, 0 to 1.
 */
export function layColours(source: Picture, region: Region, output: StreamInfo, tones: Tones, colours: Colours, weight: number): Picture {
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
    ...{ light, frame: info, chroma, across: 1 << output.chromaShiftX, down: 1 << output.chromaShiftY },
    ...(info.planes === 3 && { own: [cut(1), cut(2)] as [Plane, Plane] }),
    ...{ alike, least: LEAST, black, span, chromaSpan, shade: SHADE, weight, room: ROOM },
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
