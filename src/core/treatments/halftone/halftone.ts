import { cutPattern, NOTCH_BORDER } from '../../halftone/notch';
import { SWINGS_AS_INK } from '../../halftone/screens';
import { BORDER, CELL, cellsCover } from '../../networks/cells';
import { clean } from '../../networks/clean';
import { UNITS } from '../../networks/steering';
import { planeRegion, type Picture, type Region } from '../../picture/picture';
import { blurPlane } from '../../kernels/blur';
import { QualitySetting, type Quality } from '../quality';
import { ChoiceSetting, NumberSetting } from '../setting';
import { finerDepth, NO_NEEDS, type ApplyContext, type Treatment } from '../treatment';

/** Pixels of a period that stand for 1 in the network's plane, as in training/halftoneSamples.py. */
const PERIOD_UNIT = 8;
/** Deviation of the Gaussian that takes a screen away with the least loss, in periods: found by trying all on printed photographs. */
const BLUR = 0.35;

export class HalftoneSettings {
  @QualitySetting()
  quality: Quality = 'fast';

  @ChoiceSetting({
    label: 'Pattern',
    options: [
      { value: 'screen', label: 'printing screen' },
      { value: 'surface', label: 'paper, moiré' },
    ],
    help: 'A printing screen holds the picture in its dots, which are joined again. The texture of silk or linen paper, and moiré, lie over the picture: only their own frequencies are cut out.',
  })
  pattern: 'screen' | 'surface' = 'screen';

  @NumberSetting({
    label: 'Period',
    unit: 'px',
    min: 2,
    max: 16,
    step: 0.05,
    help: 'From dot to dot, or thread to thread. Too small leaves dots, too large melts the picture.',
  })
  period = 5;

  @NumberSetting({
    label: 'Angle',
    unit: '°',
    min: 0,
    max: 90,
    step: 0.5,
    help: 'How far its rows are turned. Only of paper and moiré: a screen is taken away whatever its angles.',
    when: { key: 'pattern', is: ['surface'] },
  })
  angle = 45;

  @NumberSetting({ label: 'Amount', unit: '%', min: 0, max: 100, step: 1, whole: true, help: 'How much of the pattern is taken away.' })
  amount = 100;
}

const usesNetwork = ({ quality, pattern }: HalftoneSettings): boolean => quality === 'best' && pattern === 'screen';

export const halftone: Treatment<HalftoneSettings> = {
  id: 'halftone',
  version: 1,
  name: 'Halftone',
  answers: 'a printing screen, paper texture, moiré',
  settings: HalftoneSettings,
  inPlace: true,
  order: [{ after: 'upscale', text: 'The period is that of the source. Move Halftone above Upscale.' }],
  suits: () => true,
  output: (input) => ({ ...input, depth: finerDepth(input) }),
  needs: (settings) => ({
    ...NO_NEEDS,
    border: usesNetwork(settings) ? Math.max(CELL.width, CELL.height) + BORDER : NOTCH_BORDER,
    grid: 2,
  }),
  networks: (settings) => (usesNetwork(settings) ? ['halftone'] : []),
  supported: (settings) => ({ ...settings, quality: 'fast' }),
  propose: ({ measurements: { screens } }) => {
    const screen = screens?.at(0);
    return (
      screen && {
        on: true,
        settings: {
          pattern: screen.swing < SWINGS_AS_INK ? 'surface' : 'screen',
          period: Math.round(screen.period * 20) / 20,
          angle: Math.round(screen.angle * 2) / 2,
        },
      }
    );
  },
  draft: (s) => ({ ...s, quality: 'fast' }),
  coarse: () => 'leave',
  summary: (s) =>
    `${s.pattern === 'screen' ? 'screen' : 'pattern'} of ${s.period.toFixed(1)} px${s.pattern === 'surface' ? ` at ${s.angle}°` : ''}, ${s.amount} %`,
  async apply([source], settings, context) {
    if (usesNetwork(settings)) return joined(source, settings, context);
    const planes = source.planes.map((plane, index) => patternless(source, index, context.region, settings));
    return { info: context.output, region: context.region, planes };
  },
};

async function joined(source: Picture, { period, amount }: HalftoneSettings, { input, output, region }: ApplyContext): Promise<Picture> {
  const steering = { grainLuma: 0, grainChroma: 0, step: 0, blur: 0, grainSize: (period / PERIOD_UNIT) * UNITS.grainSize };
  const share = { luma: amount / 100, chroma: amount / 100 };
  return { ...(await clean(source, cellsCover(region, input), steering, share, 'halftone')), info: output };
}

function patternless(source: Picture, index: number, region: Region, { pattern, period, angle, amount }: HalftoneSettings) {
  const { info } = source;
  const plane = source.planes[index],
    own = planeRegion(info, index, source.region),
    wanted = planeRegion(info, index, region);
  // Coarse chroma has its pattern at coarser samples.
  const coarser = index ? 1 << Math.max(info.chromaShiftX, info.chromaShiftY) : 1;
  return pattern === 'screen'
    ? blurPlane(plane, own, wanted, (BLUR * period) / coarser, amount / 100)
    : cutPattern(plane, own, wanted, { period: period / coarser, angle }, amount / 100);
}
