import { colourParts } from '../../../shared/settings';
import { STROKE_MARKS } from '../../../shared/marks';
import { mixPictures } from '../../graph/masked';
import { blurPlane } from '../../kernels/blur';
import { laidStrokes, strokeCover } from '../../marks/strokes';
import { coveringPicture } from '../../picture/laid';
import { codesOfColour } from '../../picture/matrix';
import { cutPicture, newPlane, planeRegion, regionsMeet, type Picture, type Plane, type Region } from '../../picture/picture';
import { subjectMask, type Subject } from '../../subject/subject';
import { ChoiceSetting, ColourSetting, NumberSetting, PictureSetting } from '../setting';
import { NO_NEEDS, type HandWork, type Treatment } from '../treatment';

export class BackgroundSettings {
  @ChoiceSetting({
    label: 'It is',
    options: [
      { value: 'soften', label: 'softened' },
      { value: 'darken', label: 'darkened' },
      { value: 'colour', label: 'one colour' },
      { value: 'picture', label: 'another picture' },
      { value: 'drop', label: 'dropped' },
    ],
    help: 'Dropped: see-through in PNG, TIFF and WebP, and one colour in what cannot be seen through.',
  })
  way: 'soften' | 'darken' | 'colour' | 'picture' | 'drop' = 'soften';

  @NumberSetting({
    label: 'Softness',
    unit: '%',
    min: 0.1,
    max: 4,
    step: 0.1,
    help: 'How far it is blurred, in percent of the longer side. Nothing of the people runs into it.',
    when: { key: 'way', is: ['soften'] },
  })
  softness = 0.8;

  @NumberSetting({
    label: 'Darker by',
    unit: '%',
    min: 5,
    max: 100,
    step: 5,
    whole: true,
    help: 'How much of its lightness is taken off.',
    when: { key: 'way', is: ['darken'] },
  })
  darker = 40;

  @PictureSetting({
    label: 'Picture',
    help: 'A still of this collection, as its plan makes it now. It fills the frame, and what is too much is cut off; paper white where none is chosen.',
    when: { key: 'way', is: ['picture'] },
  })
  picture = '';

  @ColourSetting({
    label: 'Colour',
    help: 'What it is filled with; paper white where none is picked.',
    when: { key: 'way', is: ['colour', 'drop'] },
  })
  colour = '';
}

/** Paper white, where no colour is picked. */
const PAPER = [62_000, 61_500, 60_000];

const sigmaOf = (softness: number, { width, height }: { width: number; height: number }): number =>
  Math.max(0.5, (softness / 100) * Math.max(width, height));

/** How far each pixel of a part is subject, by what was found and what was painted. @param source holds the region. */
function subjectAt(source: Picture, region: Region, { marks, place }: HandWork, found: Subject): Float32Array<ArrayBuffer> {
  const mask = subjectMask(found, source, region);
  for (const stroke of laidStrokes(marks, ['subject', 'ground'], place)) {
    if (!regionsMeet(stroke.box, region)) continue;
    const cover = strokeCover(stroke, region);
    const value = stroke.mark.use === 'subject' ? 1 : 0;
    for (let i = 0; i < mask.length; i++) mask[i] += (value - mask[i]) * cover[i];
  }
  return mask;
}

export const background: Treatment<BackgroundSettings> = {
  id: 'background',
  version: 1,
  name: 'Background',
  answers: 'a distracting background',
  settings: BackgroundSettings,
  inPlace: true,
  reads: () => ['subject'],
  pictures: ({ way, picture }) => (way === 'picture' && picture ? [picture] : []),
  marks: STROKE_MARKS,
  suits: ({ frames, fieldOrder }) => frames === 1 && fieldOrder === 'progressive',
  output: (input) => input,
  needs: ({ way, softness }, input) => ({
    ...NO_NEEDS,
    border: way === 'soften' ? Math.ceil(3 * sigmaOf(softness, input)) + 2 : 0,
    grid: 2,
  }),
  propose: () => undefined,
  summary: ({ way, softness, darker, picture }) =>
    ({
      soften: `softened, ${softness} %`,
      darken: `darker by ${darker} %`,
      colour: 'one colour',
      picture: picture ? 'another picture' : 'no picture chosen',
      drop: 'dropped',
    })[way],
  found([source], _settings, { asked, marks, place, analyses }) {
    const opacity = subjectAt(source, asked, { marks, place }, analyses.subject as Subject);
    const mask = Uint8Array.from(opacity, (v) => Number(v >= 0.5));
    return Promise.resolve({ region: asked, mask, counts: [], share: mask.reduce((sum, v) => sum + v, 0) / mask.length });
  },
  apply([source], settings, { output, region, marks, place, analyses, pictures }) {
    const found = analyses.subject as Subject;
    const whole = cutPicture(source, region);
    const mask = subjectAt(source, region, { marks, place }, found);
    const ground = (): Picture => {
      const laid = settings.way === 'picture' ? pictures[settings.picture] : undefined;
      if (laid) return coveringPicture(laid, source.info, region);
      if (settings.way === 'soften')
        return softened(source, region, subjectAt(source, source.region, { marks, place }, found), sigmaOf(settings.softness, source.info));
      if (settings.way === 'darken') return filled(whole, [0, 0, 0]);
      return filled(whole, settings.colour && settings.way !== 'picture' ? colourParts(settings.colour) : PAPER);
    };
    const weight = settings.way === 'darken' ? settings.darker / 100 : 1;
    const mixed = mixPictures(
      whole,
      ground(),
      mask.map((v) => weight * (1 - v)),
    );
    return { ...mixed, info: output };
  },
};

/** A picture of one colour. @param parts red, green, blue, 0 to 65535. */
function filled({ info, region, planes }: Picture, parts: readonly number[]): Picture {
  const codes = codesOfColour(info, parts);
  return { info, region, planes: planes.map(({ width, height }, index) => newPlane(width, height, codes[index])) };
}

/** The ground blurred by itself: what is subject has no share in it (normalised convolution, Knutsson and Westin, 1993). */
function softened(source: Picture, region: Region, subject: Float32Array, sigma: number): Picture {
  const { info } = source;
  const planes = source.planes.map((plane, index): Plane => {
    const shiftX = index ? info.chromaShiftX : 0,
      shiftY = index ? info.chromaShiftY : 0;
    const own = planeRegion(info, index, source.region),
      wanted = planeRegion(info, index, region);
    const shares = newPlane(plane.width, plane.height),
      values = newPlane(plane.width, plane.height);
    for (let y = 0; y < plane.height; y++)
      for (let x = 0; x < plane.width; x++) {
        const i = y * plane.width + x;
        const at = Math.min(source.region.height - 1, y << shiftY) * source.region.width + Math.min(source.region.width - 1, x << shiftX);
        // A little of everything, so that there is something where all is subject.
        const share = Math.max(0.002, 1 - subject[at]);
        shares.data[i] = Math.round(65535 * share);
        values.data[i] = Math.round(plane.data[i] * share);
      }
    const across = sigma / (1 << shiftX);
    const light = blurPlane(values, own, wanted, across, 1),
      weight = blurPlane(shares, own, wanted, across, 1);
    const out = newPlane(wanted.width, wanted.height);
    for (let i = 0; i < out.data.length; i++)
      out.data[i] = Math.min(65535, Math.round((65535 * light.data[i]) / Math.max(1, weight.data[i])));
    return out;
  });
  return { info, region, planes };
}
