import { DECONVOLVE_BORDER, deconvolve } from '../../focus/deconvolve';
import type { Spread } from '../../focus/spread';
import { undoBlur } from '../../kernels/sharpen';
import type { Picture, StreamInfo } from '../../picture/picture';
import { cutRegion, lumaOnly } from '../lumaOnly';
import { QualitySetting, type Quality } from '../quality';
import { ChoiceSetting, NumberSetting } from '../setting';
import { finerDepth, NO_NEEDS, type ApplyContext, type Treatment } from '../treatment';

export class FocusSettings {
  @QualitySetting()
  quality: Quality = 'fast';

  @ChoiceSetting({
    label: 'Cause',
    options: [
      { value: 'softness', label: 'softness' },
      { value: 'defocus', label: 'defocus' },
      { value: 'motion', label: 'motion' },
    ],
    help: 'Softness is what lenses, scanners and copying do; defocus makes discs of points, motion of the camera draws them out in one direction.',
  })
  cause: 'softness' | 'defocus' | 'motion' = 'softness';

  @NumberSetting({
    label: 'Blur',
    unit: 'px',
    min: 0,
    max: 2,
    step: 0.05,
    help: 'Radius of the softness to undo. Set larger than it is, edges get outlines and skin gets pores that were not there.',
    when: { key: 'cause', is: ['softness'] },
  })
  blur = 0.6;

  @NumberSetting({
    label: 'Radius',
    unit: 'px',
    min: 0.5,
    max: 10,
    step: 0.1,
    help: 'Radius of the discs that points became.',
    when: { key: 'cause', is: ['defocus'] },
  })
  radius = 2;

  @NumberSetting({
    label: 'Length',
    unit: 'px',
    min: 1,
    max: 40,
    step: 0.5,
    help: 'How far points were drawn out: as long as the trace of a point of light.',
    when: { key: 'cause', is: ['motion'] },
  })
  length = 7;

  @NumberSetting({
    label: 'Direction',
    unit: '°',
    min: 0,
    max: 179,
    step: 1,
    help: 'Of the traces: 0 is level, 90 upright; the angle grows clockwise.',
    when: { key: 'cause', is: ['motion'] },
  })
  angle = 0;

  @NumberSetting({
    label: 'Noise',
    unit: 'σ',
    min: 0,
    max: 20,
    step: 0.1,
    help: 'Noise the picture has. Set smaller than it is, noise is taken for fine detail and made stronger.',
    when: { key: 'cause', is: ['defocus', 'motion'] },
  })
  noise = 2;

  @NumberSetting({ label: 'Strength', unit: '%', min: 0, max: 100, step: 1, help: 'How much of the correction is applied.' })
  strength = 100;
}

/** Iterations of the fast way, and how far it may leave its neighbours' range. */
const ROUNDS = 4;
const SLACK = 0.15;
/** Each round reaches three radii further. */
const FAST_BORDER = 28;
/** Softness of stills, in pixels, from which the spread is undone step by step: for less the cleaning network does as well, and sooner. */
const STEPWISE_FROM = 1;

/** The spread that is undone in the spectrum; undefined where the blur is undone otherwise. */
function spreadOf({ quality, cause, blur, radius, length, angle }: FocusSettings, { frames }: StreamInfo): Spread | undefined {
  if (cause === 'defocus') return { kind: 'defocus', radius };
  if (cause === 'motion') return { kind: 'motion', length, angle };
  return quality === 'best' && frames === 1 && blur >= STEPWISE_FROM ? { kind: 'softness', blur } : undefined;
}

export const focus: Treatment<FocusSettings> = {
  id: 'focus',
  version: 2,
  name: 'Focus',
  answers: 'softness, motion blur',
  settings: FocusSettings,
  inPlace: true,
  line: { length: 'length', angle: 'angle', when: { key: 'cause', is: 'motion' } },
  order: [{ after: 'regrain', text: 'It sharpens the grain that was put back. Move Regrain below.' }],
  suits: () => true,
  output: (input) => ({ ...input, depth: finerDepth(input) }),
  needs: (settings, input) => ({ ...NO_NEEDS, border: spreadOf(settings, input) ? DECONVOLVE_BORDER : FAST_BORDER, grid: 2 }),
  networks: ({ quality }) => (quality === 'best' ? ['clean'] : []),
  supported: (settings) => ({ ...settings, strength: 0 }),
  steering: (settings, input) => {
    const { quality, blur, strength } = settings;
    if (quality !== 'best' || spreadOf(settings, input)) return undefined;
    return { steering: { blur }, share: { luma: strength / 100, chroma: strength / 100 } };
  },
  // Softness may be the lens, the hour or the intention: it is offered, and switched on by the restorer.
  propose: ({ measurements: m }) => ({
    on: false,
    settings: {
      blur: Math.round(m.blur * 20) / 20,
      noise: Math.min(20, Math.round(m.grainLuma * 10) / 10),
      ...(m.motion && { cause: 'motion', length: Math.round(m.motion.length * 2) / 2, angle: Math.round(m.motion.angle) % 180 }),
    },
  }),
  draft: (s) => ({ ...s, quality: 'fast' }),
  coarse: () => 'leave',
  summary: (s) =>
    `${s.cause === 'motion' ? `motion ${s.length} px at ${s.angle}°` : s.cause === 'defocus' ? `defocus ${s.radius.toFixed(1)} px` : `blur ${s.blur.toFixed(2)} px`}, ${s.strength} %`,
  apply: ([source], settings, context) => {
    const spread = spreadOf(settings, context.input);
    return spread ? undone(source, spread, settings, context) : sharpened(source, settings, context);
  },
};

function sharpened(source: Picture, { blur, strength }: FocusSettings, { output }: ApplyContext): Picture {
  const [luma, ...chroma] = source.planes;
  const sharp = blur === 0 || strength === 0 ? luma : undoBlur(luma, blur, ROUNDS, SLACK, strength / 100);
  return { info: output, region: source.region, planes: [sharp, ...chroma] };
}

async function undone(
  source: Picture,
  spread: Spread,
  { quality, noise, strength }: FocusSettings,
  context: ApplyContext,
): Promise<Picture> {
  if (strength === 0) return lumaOnly(source, context, cutRegion);
  const [luma] = source.planes;
  const how = { spread, noise, strength: strength / 100, network: quality === 'best' };
  const sharp = await deconvolve(luma, source.region, context.region, how);
  return lumaOnly(source, context, () => sharp);
}
