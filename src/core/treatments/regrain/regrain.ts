import { addGrain } from '../../kernels/noise';
import { lumaLimits, planeRegion, type StreamInfo } from '../../picture/picture';
import { NumberSetting } from '../setting';
import { finerDepth, NO_NEEDS, type Treatment } from '../treatment';

export class RegrainSettings {
  @NumberSetting({
    label: 'Amount',
    unit: 'σ',
    min: 0,
    max: 30,
    step: 0.1,
    help: 'Strength of the grain in the middle tones. Too much hides what was won.',
  })
  amount = 1.5;

  @NumberSetting({ label: 'Size', unit: 'px', min: 0, max: 4, step: 0.1, help: 'Radius of a grain in pixels of the result.' })
  size = 0.6;

  @NumberSetting({ label: 'Chroma', unit: '%', min: 0, max: 100, step: 1, help: 'Coloured grain, as a share of the amount.' })
  chroma = 0;

  @NumberSetting({
    label: 'Seed',
    min: 0,
    max: 1_000_000,
    step: 1,
    whole: true,
    help: 'Another number gives another grain of the same kind.',
  })
  seed = 1;
}

/** Grain of film is strongest in the middle tones and fades towards black and white. */
function amplitudes(info: StreamInfo, amount: number): Float32Array {
  const { black, white } = lumaLimits(info.colour.range);
  return Float32Array.from({ length: 256 }, (_, level) => {
    const tone = Math.min(1, Math.max(0, (level * 256 + 128 - black) / (white - black)));
    return amount * (0.25 + 0.75 * Math.sqrt(4 * tone * (1 - tone)));
  });
}

export const regrain: Treatment<RegrainSettings> = {
  id: 'regrain',
  version: 1,
  name: 'Regrain',
  answers: 'a waxed look',
  settings: RegrainSettings,
  inPlace: true,
  suits: () => true,
  output: (input) => ({ ...input, depth: finerDepth(input) }),
  needs: () => NO_NEEDS,
  // To match: half of the measured grain is what the eye still takes for the source's own.
  propose: ({ measurements: m }) => ({
    on: false,
    settings: { amount: Math.round(m.grainLuma * 5) / 10, size: Math.max(0.4, m.grainSize) },
  }),
  coarse: () => 'leave',
  summary: (s) => `${s.amount.toFixed(1)} σ, ${s.size.toFixed(1)} px`,
  apply: ([picture], settings, { frame, output, region }) => {
    const planes = picture.planes.map((plane, index) => {
      const strength = index === 0 ? settings.amount : (settings.amount * settings.chroma) / 100;
      if (strength === 0) return plane;
      const copy = { ...plane, data: plane.data.slice() };
      const levels = index === 0 ? amplitudes(output, strength) : new Float32Array(256).fill(strength);
      addGrain(copy, planeRegion(output, index, region), {
        amplitudes: levels,
        size: settings.size,
        seed: settings.seed,
        frame,
        channel: index,
      });
      return copy;
    });
    return { info: output, region, planes };
  },
};
