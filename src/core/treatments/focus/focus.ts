import { undoBlur } from '../../kernels/sharpen';
import { QualitySetting, type Quality } from '../quality';
import { NumberSetting } from '../setting';
import { finerDepth, NO_NEEDS, type Treatment } from '../treatment';

export class FocusSettings {
  @QualitySetting()
  quality: Quality = 'fast';

  @NumberSetting({
    label: 'Blur',
    unit: 'px',
    min: 0,
    max: 2,
    step: 0.05,
    help: 'Radius of the softness to undo. Set larger than it is, edges get outlines and skin gets pores that were not there.',
  })
  blur = 0.6;

  @NumberSetting({ label: 'Strength', unit: '%', min: 0, max: 100, step: 1, help: 'How much of the correction is applied.' })
  strength = 100;
}

/** Iterations of the fast way, and how far it may leave its neighbours' range. */
const ROUNDS = 4;
const SLACK = 0.15;
/** Each round reaches three radii further. */
const FAST_BORDER = 28;

export const focus: Treatment<FocusSettings> = {
  id: 'focus',
  version: 1,
  name: 'Focus',
  answers: 'softness',
  settings: FocusSettings,
  inPlace: true,
  order: [{ after: 'regrain', text: 'It sharpens the grain that was put back. Move Regrain below.' }],
  suits: () => true,
  output: (input) => ({ ...input, depth: finerDepth(input) }),
  needs: () => ({ ...NO_NEEDS, border: FAST_BORDER, grid: 2 }),
  networks: ({ quality }) => (quality === 'best' ? ['clean'] : []),
  supported: (settings) => ({ ...settings, strength: 0 }),
  steering: ({ quality, blur, strength }) =>
    quality === 'best' ? { steering: { blur }, share: { luma: strength / 100, chroma: strength / 100 } } : undefined,
  // Softness may be the lens, the hour or the intention: it is offered, and switched on by the restorer.
  propose: ({ measurements: m }) => ({ on: false, settings: { blur: Math.round(m.blur * 20) / 20 } }),
  draft: (s) => ({ ...s, quality: 'fast' }),
  summary: (s) => `blur ${s.blur.toFixed(2)} px, ${s.strength} %`,
  apply: ([source], settings, { output }) => {
    const [luma, ...chroma] = source.planes;
    const sharp =
      settings.blur === 0 || settings.strength === 0 ? luma : undoBlur(luma, settings.blur, ROUNDS, SLACK, settings.strength / 100);
    return { info: output, region: source.region, planes: [sharp, ...chroma] };
  },
};
