import { toInlay } from '../../../shared/inlay';
import { invertPlace, placeOf, type Projective } from '../../../shared/maps/place';
import { mixPictures } from '../../graph/masked';
import { blurPlane } from '../../kernels/blur';
import { pictureThrough, reductionOf, type LaidPicture, type Through } from '../../picture/laid';
import {
  chromaGrid,
  copyPicture,
  growRegion,
  insideFrame,
  putPart,
  regionsMeet,
  type Picture,
  type Region,
  type StreamInfo,
} from '../../picture/picture';
import { NO_NEEDS, type ApplyContext, type Treatment } from '../treatment';
import { coverOf } from './cover';
import { inLight, lightOf } from './light';
import { InlaySettings } from './settings';

/** Pixels of the input that a picture is laid over; undefined where it lies outside. */
function boxOf(laid: { width: number; height: number }, to: Projective, input: StreamInfo): Region | undefined {
  const at = placeOf(invertPlace(to), { x: 0, y: 0, ...laid });
  const x = Math.floor(at.x),
    y = Math.floor(at.y);
  const box = insideFrame({ x, y, width: Math.ceil(at.x + at.width) - x, height: Math.ceil(at.y + at.height) - y }, input);
  return box.width > 0 && box.height > 0 ? box : undefined;
}

/** What two regions that meet share. */
function sharedBy(a: Region, b: Region): Region {
  const x = Math.max(a.x, b.x),
    y = Math.max(a.y, b.y);
  return { x, y, width: Math.min(a.x + a.width, b.x + b.width) - x, height: Math.min(a.y + a.height, b.y + b.height) - y };
}

/** Pixels of the input beside a place that are looked at with it. */
const TAPS = 2;

export const inlay: Treatment<InlaySettings> = {
  id: 'inlay',
  version: 1,
  name: 'Inlay',
  answers: 'what another picture shows better',
  settings: InlaySettings,
  inPlace: true,
  order: [{ after: 'regrain', text: 'It would lie over the grain that was put back. Move Regrain below.' }],
  pictures: ({ picture }) => (picture ? [picture] : []),
  placing: { picture: 'picture', shape: 'shape', x: 'x', y: 'y', width: 'width', turn: 'turn' },
  suits: ({ fieldOrder }) => fieldOrder === 'progressive',
  output: (input) => input,
  needs: () => ({ ...NO_NEEDS, grid: 2 }),
  // Where it takes the light that is there, any part depends on all that it lies over; how large that is, its picture says.
  reach: (region, { picture, light, ...at }, input, { pictures, place }) => {
    const laid = pictures[picture];
    if (!laid || light === 0) return undefined;
    const box = boxOf(laid, toInlay(at, laid, place), input);
    return box && regionsMeet(box, region) ? growRegion(box, TAPS, 1, input) : undefined;
  },
  propose: () => undefined,
  supported: (settings) => ({ ...settings, opacity: 0 }),
  borrowed: (settings) => ({ ...settings, opacity: 0 }),
  coarse: ({ x, y, width, softer, ...rest }, by) => ({
    ...rest,
    x: x / by,
    y: y / by,
    width: Math.max(1, width / by),
    softer: softer / by,
  }),
  summary: ({ picture, opacity, light }) =>
    picture ? `another picture, ${opacity} %${light ? `, in the light here ${light} %` : ''}` : 'no picture chosen',
  apply([source], settings, { output, region, input, pictures, place }) {
    const whole = { ...copyPicture(source, region), info: output };
    const laid = pictures[settings.picture];
    if (!laid || settings.opacity === 0) return whole;
    const to = toInlay(settings, laid, place);
    const box = boxOf(laid, to, input);
    if (!box || !regionsMeet(box, region)) return whole;
    const part = sharedBy(growRegion(box, 0, chromaGrid(input), input), region);
    const shown = shownIn(source, laid, settings, { to, reduction: reductionOf(to, box), region: part });
    const cover = coverOf({ shape: settings.shape, edge: settings.edge / 100, laid }, to, part);
    putPart(
      whole,
      mixPictures(
        whole,
        shown,
        cover.map((v) => (v * settings.opacity) / 100),
      ),
    );
    return whole;
  },
};

/** A part of a picture that is laid in, as it comes to lie there. */
function shownIn(
  source: Picture,
  laid: LaidPicture,
  { softer, light, shape }: InlaySettings,
  { region, ...through }: Pick<ApplyContext, 'region'> & Through,
): Picture {
  const { to, reduction } = through;
  const shown = pictureThrough(softer > 0 ? softened(laid, softer * reduction) : laid, through, source.info, region);
  if (light === 0) return shown;
  const within = (x: number, y: number): boolean => shape === 'whole' || Math.hypot(2 * x - 1, 2 * y - 1) < 1;
  return inLight(shown, lightOf(source, laid, to, within), laid, to, light / 100);
}

/** Softened pictures, by their deviation: tiles ask for the same one after the other. */
const soft = new WeakMap<LaidPicture, { sigma: number; picture: LaidPicture }>();

function softened(laid: LaidPicture, sigma: number): LaidPicture {
  const known = soft.get(laid);
  if (known?.sigma === sigma) return known.picture;
  const { width, height, data } = laid;
  const region = { x: 0, y: 0, width, height };
  const out = new Uint16Array(data.length);
  for (let c = 0; c < 3; c++) {
    const plane = { width, height, data: Uint16Array.from({ length: width * height }, (_, i) => data[3 * i + c]) };
    blurPlane(plane, region, region, sigma, 1).data.forEach((v, i) => (out[3 * i + c] = v));
  }
  const picture = { width, height, data: out };
  soft.set(laid, { sigma, picture });
  return picture;
}
