import { mixPictures } from '../../graph/masked';
import { mendStroke, strokesFor } from '../../marks/mendStrokes';
import { laidStrokes, type LaidStroke } from '../../marks/strokes';
import { STROKE_MARKS } from '../../../shared/marks';
import { copyPicture, cutPicture } from '../../picture/picture';
import { QualitySetting, type Quality } from '../quality';
import { NumberSetting } from '../setting';
import { NO_NEEDS, type HandWork, type Treatment } from '../treatment';

export class HealSettings {
  @QualitySetting()
  quality: Quality = 'best';

  @NumberSetting({ label: 'Amount', unit: '%', min: 0, max: 100, step: 1, whole: true, help: 'How much of the mending is applied.' })
  amount = 100;
}

const healing = ({ marks, place }: HandWork): LaidStroke[] => laidStrokes(marks, ['heal', 'remove', 'tone'], place);

export const heal: Treatment<HealSettings> = {
  id: 'heal',
  version: 3,
  name: 'Heal',
  answers: 'faults marked by hand',
  settings: HealSettings,
  inPlace: true,
  marks: STROKE_MARKS,
  order: [
    {
      after: 'upscale',
      text: 'Strokes are made on the source. Move Heal above Upscale, so that what is mended is enlarged with the rest.',
    },
  ],
  suits: ({ frames }) => frames === 1,
  output: (input) => input,
  needs: () => ({ ...NO_NEEDS, grid: 4 }),
  reach: (region, _, input, work) => (work.marks.length > 0 ? strokesFor(healing(work), region, input).reach : undefined),
  networks: ({ quality }) => (quality === 'best' ? ['heal'] : []),
  supported: (settings) => ({ ...settings, amount: 0 }),
  // There is nothing to do before something is marked.
  propose: () => undefined,
  draft: (s) => ({ ...s, quality: 'fast' }),
  coarse: () => 'leave',
  summary: (s) => (s.amount < 100 ? `${s.amount} %` : 'by hand'),
  async apply([source], settings, { input, output, region, marks, place }) {
    const { strokes } = strokesFor(healing({ marks, place }), region, input);
    const before = cutPicture(source, region);
    if (strokes.length === 0 || settings.amount === 0) return { ...before, info: output };
    const work = copyPicture(source, source.region);
    for (const stroke of strokes) await mendStroke(work, stroke, settings.quality);
    const made = cutPicture(work, region);
    const weight = settings.amount / 100;
    const mixed = weight < 1 ? mixPictures(before, made, new Float32Array(region.width * region.height).fill(weight)) : made;
    return { ...mixed, info: output };
  },
};
