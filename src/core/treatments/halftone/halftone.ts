import type { Measurements } from '../../condition/report';
import { FROM_BLACK, INKS } from '../../halftone/inks';
import { joinDots, type Print } from '../../halftone/join';
import { cutPattern, NOTCH_BORDER } from '../../halftone/notch';
import { lightOf, phaseBorder, swingsOf } from '../../halftone/phases';
import { cutRings, RINGS_BORDER } from '../../halftone/rings';
import { SWINGS_AS_INK } from '../../halftone/screens';
import { BORDER, CELL, cellsCover } from '../../networks/cells';
import { planeRegion, type Picture, type Plane, type Region } from '../../picture/picture';
import { blurPlane } from '../../kernels/blur';
import { QualitySetting, type Quality } from '../quality';
import { ChoiceSetting, NumberSetting } from '../setting';
import { finerDepth, NO_NEEDS, type ApplyContext, type Treatment } from '../treatment';

/** Deviation of the Gaussian that takes a screen away with the least loss, in periods: found by trying all on printed photographs. */
const BLUR = 0.35;

/** Degrees that rows are turned by, shown with some patterns. */
const AngleSetting = (label: string, patterns: string[], help: string): PropertyDecorator =>
  NumberSetting({ label, unit: '°', min: 0, max: 90, step: 0.1, help, when: { key: 'pattern', is: patterns } });

export class HalftoneSettings {
  @QualitySetting()
  quality: Quality = 'fast';

  @ChoiceSetting({
    label: 'Pattern',
    options: [
      { value: 'screen', label: 'screen of one ink' },
      { value: 'inks', label: 'screens of four inks' },
      { value: 'surface', label: 'paper, moiré' },
      { value: 'rings', label: "Newton's rings" },
    ],
    help: "A printing screen holds the picture in its dots, which are joined again, ink by ink. The texture of silk or linen paper, and moiré, lie over the picture: only their own frequencies are cut out. Newton's rings are looked for in every direction: paint the part where they lie.",
  })
  pattern: 'screen' | 'inks' | 'surface' | 'rings' = 'screen';

  @NumberSetting({
    label: 'Period',
    unit: 'px',
    min: 2,
    max: 40,
    step: 0.05,
    help: 'From dot to dot, or thread to thread; of rings, about from one to the next. Of dots, too small leaves some, too large melts the picture.',
  })
  period = 5;

  @AngleSetting('Angle', ['screen', 'inks', 'surface'], 'How far its rows are turned; of four inks, those of black.')
  angle = 45;

  @AngleSetting("Cyan's angle", ['inks'], 'How far the rows of cyan are turned.')
  cyan = 15;

  @AngleSetting("Magenta's angle", ['inks'], 'How far the rows of magenta are turned.')
  magenta = 75;

  @AngleSetting("Yellow's angle", ['inks'], 'How far the rows of yellow are turned.')
  yellow = 0;

  @NumberSetting({ label: 'Amount', unit: '%', min: 0, max: 100, step: 1, whole: true, help: 'How much of the pattern is taken away.' })
  amount = 100;
}

/** Whether a pattern is what the picture is made of. */
const isInk = (pattern: HalftoneSettings['pattern']): boolean => pattern === 'screen' || pattern === 'inks';

const usesNetwork = ({ quality, pattern }: HalftoneSettings): boolean => quality === 'best' && isInk(pattern);

export const halftone: Treatment<HalftoneSettings> = {
  id: 'halftone',
  version: 3,
  name: 'Halftone',
  answers: "a printing screen, paper texture, moiré, Newton's rings",
  settings: HalftoneSettings,
  inPlace: true,
  order: [{ after: 'upscale', text: 'The period is that of the source. Move Halftone above Upscale.' }],
  suits: () => true,
  output: (input) => ({ ...input, depth: finerDepth(input) }),
  needs: (settings, { chromaShiftX, chromaShiftY }) => ({
    ...NO_NEEDS,
    border: usesNetwork(settings)
      ? Math.max(CELL.width, CELL.height) + Math.max(BORDER, phaseBorder(settings.period)) + BORDER
      : isInk(settings.pattern)
        ? Math.max(NOTCH_BORDER, phaseBorder(settings.period))
        : (settings.pattern === 'rings' ? RINGS_BORDER : NOTCH_BORDER) << Math.max(chromaShiftX, chromaShiftY),
    grid: 2,
  }),
  networks: (settings) => (usesNetwork(settings) ? ['halftone'] : []),
  supported: (settings) => ({ ...settings, quality: 'fast' }),
  propose: ({ measurements: { screens = [] } }) => (screens.length ? { on: true, settings: proposed(screens) } : undefined),
  draft: (s) => ({ ...s, quality: 'fast' }),
  coarse: () => 'leave',
  summary: (s) =>
    `${{ screen: 'screen', inks: 'four screens', surface: 'pattern', rings: 'rings' }[s.pattern]} of ${s.period.toFixed(1)} px${s.pattern === 'rings' ? '' : ` at ${s.angle}°`}, ${s.amount} %`,
  async apply([source], settings, context) {
    if (usesNetwork(settings)) return joined(source, settings, context);
    const printed = isInk(settings.pattern) ? printedOf(source, settings, context.region) : undefined;
    const planes = source.planes.map((plane, index) => {
      const made = patternless(source, index, context.region, settings);
      return printed ? mixed(source, index, context.region, made, printed) : made;
    });
    return { info: context.output, region: context.region, planes };
  },
};

const printOf = ({ pattern, period, angle, cyan, magenta, yellow }: HalftoneSettings): Print => ({
  period,
  angles: pattern === 'inks' ? { black: angle, cyan, magenta, yellow } : { black: angle },
});

async function joined(source: Picture, settings: HalftoneSettings, { input, output, region }: ApplyContext): Promise<Picture> {
  return { ...(await joinDots(source, cellsCover(region, input), printOf(settings), settings.amount / 100)), info: output };
}

/** Codes of 255 by which light swings with a screen where nothing is printed with it, type for example, and from which it surely is. */
const SWINGS = { none: 4, surely: 9 };

/** How surely each pixel of a part is printed with one of the screens, 0 to 1. */
function printedOf(source: Picture, settings: HalftoneSettings, region: Region): Float32Array {
  const { period, angles } = printOf(settings);
  const out = new Float32Array(region.width * region.height);
  for (const ink of INKS) {
    const angle = angles[ink];
    if (angle === undefined) continue;
    swingsOf(lightOf(ink, source), { period, angle }, region).forEach((swing, i) => {
      out[i] = Math.max(out[i], Math.min(1, (swing - SWINGS.none) / (SWINGS.surely - SWINGS.none)));
    });
  }
  return out;
}

/** A plane of a part, changed only where it is printed. */
function mixed(source: Picture, index: number, region: Region, made: Plane, printed: Float32Array): Plane {
  const { info } = source;
  const plane = source.planes[index],
    own = planeRegion(info, index, source.region),
    wanted = planeRegion(info, index, region);
  const [sx, sy] = index ? [info.chromaShiftX, info.chromaShiftY] : [0, 0];
  const data = made.data.map((v, i) => {
    const x = i % made.width,
      y = (i - x) / made.width;
    const before = plane.data[(y + wanted.y - own.y) * plane.width + x + wanted.x - own.x];
    const share = printed[Math.min(region.height - 1, y << sy) * region.width + Math.min(region.width - 1, x << sx)];
    return Math.round(before + share * (v - before));
  });
  return { ...made, data };
}

/** The pattern of the screens that were found; inks whose own was not keep to the usual angles from black's. */
function proposed(screens: NonNullable<Measurements['screens']>): Pick<HalftoneSettings, 'pattern' | 'period'> & Partial<HalftoneSettings> {
  const [first] = screens;
  const black = (first.angle - FROM_BLACK[first.ink ?? 'black'] + 180) % 90;
  const tenth = (angle: number): number => Math.round(10 * ((angle + 180) % 90)) / 10;
  const [angle, cyan, magenta, yellow] = INKS.map((ink) => tenth(screens.find((s) => s.ink === ink)?.angle ?? black + FROM_BLACK[ink]));
  const period = Math.round(first.period * 20) / 20;
  if (first.swing < SWINGS_AS_INK) return { pattern: 'surface', period, angle: tenth(first.angle) };
  return screens.some((s) => s.ink && s.ink !== 'black')
    ? { pattern: 'inks', period, angle, cyan, magenta, yellow }
    : { pattern: 'screen', period, angle };
}

function patternless(source: Picture, index: number, region: Region, { pattern, period, angle, amount }: HalftoneSettings) {
  const { info } = source;
  const plane = source.planes[index],
    own = planeRegion(info, index, source.region),
    wanted = planeRegion(info, index, region);
  // Coarse chroma has its pattern at coarser samples.
  const coarser = index ? 1 << Math.max(info.chromaShiftX, info.chromaShiftY) : 1;
  if (isInk(pattern)) return blurPlane(plane, own, wanted, (BLUR * period) / coarser, amount / 100);
  return pattern === 'rings'
    ? cutRings(plane, own, wanted, period / coarser, amount / 100)
    : cutPattern(plane, own, wanted, { period: period / coarser, angle }, amount / 100);
}
