import { estimateMotions, type Lines } from '../../kernels/motion';
import type { MotionField, MotionOptions } from '../../kernels/reference/motion';
import { shrinkGrain } from '../../kernels/shrink';
import type { Picture, Plane } from '../../picture/picture';
import { NumberSetting } from '../setting';
import { finerDepth, type Treatment } from '../treatment';

const sigma = (label: string, help: string): PropertyDecorator => NumberSetting({ label, unit: 'σ', min: 0, max: 60, step: 0.1, help });

export class GrainSettings {
  @sigma('Luma', 'How strong the grain in the lightness is. Set higher than it is, cloth and skin turn to wax.')
  luma = 4;

  @sigma('Chroma', 'How strong the coloured noise is. Set higher than it is, small colours fade.')
  chroma = 4;

  @NumberSetting({
    label: 'Size',
    unit: 'px',
    min: 0,
    max: 1.6,
    step: 0.05,
    help: 'Radius of a grain: 0 for noise of single pixels, more for film grain and compressed noise. Too large leaves specks and blurs wide tones.',
  })
  size = 0;

  @NumberSetting({
    label: 'Chroma size',
    unit: 'px',
    min: 0,
    max: 1.6,
    step: 0.05,
    help: 'The same for the coloured noise, in pixels of the chroma planes.',
  })
  chromaSize = 0;

  @NumberSetting({ label: 'Keep', unit: '%', min: 0, max: 100, step: 1, help: 'Share of the grain that is left in, for a natural look.' })
  keep = 10;

  @NumberSetting({
    label: 'Neighbours',
    unit: 'fr',
    min: 0,
    max: 2,
    step: 1,
    whole: true,
    help: 'Frames before and after that help. More takes longer; 0 looks at each frame by itself and flickers.',
  })
  neighbours = 2;
}

/** Blocks of 16 x 16 luma samples; the search reaches 28 x 20. */
const MOTION: MotionOptions = { blockWidth: 16, blockHeight: 16, reachX: 7, reachY: 5, penalty: 6 };

/** Margins of the windows in samples of the coarsest plane, in luma pixels. */
const BORDER = 16;

export const grain: Treatment<GrainSettings> = {
  id: 'grain',
  name: 'Grain',
  answers: 'grain and noise',
  settings: GrainSettings,
  suits: () => true,
  output: (input) => ({ ...input, depth: finerDepth(input) }),
  needs: (settings, input) => {
    const moving = input.frames > 1 && settings.neighbours > 0;
    const reach = moving ? settings.neighbours : 0;
    return { before: reach, after: reach, border: BORDER, grid: 16, whole: moving };
  },
  propose: ({ measurements: m }) => ({
    on: m.grainLuma >= 1.2 || m.grainChroma >= 1.5,
    settings: { luma: round(m.grainLuma), chroma: round(m.grainChroma), size: m.grainSize, chromaSize: m.grainSizeChroma },
  }),
  summary: (s, input) =>
    `luma ${s.luma.toFixed(1)}, chroma ${s.chroma.toFixed(1)}${input.frames > 1 ? `, ${2 * s.neighbours + 1} frames` : ''}`,
  apply: (window, settings, { input, output }) => {
    const middle = (window.length - 1) / 2;
    const current = window[middle];
    // At the clip's ends a frame repeats: it has nothing new to say.
    const others = window.filter((p, i) => i !== middle && window.indexOf(p) === i && p !== current);
    const motion = estimateMotions(lines(current), others.map(lines), MOTION);
    const planes = current.planes.map((plane, index) => cleanPlane(plane, index, others, motion, settings, input.frames > 1, current));
    return { info: output, region: current.region, planes };
  },
};

function cleanPlane(
  plane: Plane,
  index: number,
  others: Picture[],
  motion: MotionField[],
  settings: GrainSettings,
  moving: boolean,
  current: Picture,
): Plane {
  const strength = index === 0 ? settings.luma : settings.chroma;
  if (strength === 0 || settings.keep >= 100) return plane;
  const sx = index ? current.info.chromaShiftX : 0,
    sy = index ? current.info.chromaShiftY : 0;
  const neighbours = others.map((p, i) => ({ plane: p.planes[index], motion: scaled(motion[i], sx, sy) }));
  return shrinkGrain(
    plane,
    neighbours,
    { blockWidth: MOTION.blockWidth >> sx, blockHeight: MOTION.blockHeight >> sy },
    {
      sigma: strength,
      size: index === 0 ? settings.size : settings.chromaSize,
      step: moving ? 4 : 2,
      threshold: 2.2,
      trust: 10,
      keep: settings.keep / 100,
    },
  );
}

const round = (v: number): number => Math.round(v * 10) / 10;

const lines = (picture: Picture): Lines => ({ plane: picture.planes[0], first: 0, step: 1 });

/** Vectors in samples of a coarser plane. */
function scaled(field: MotionField, sx: number, sy: number): MotionField {
  if (!sx && !sy) return field;
  return { ...field, vectors: field.vectors.map((v, i) => Math.round(v / (1 << (i & 1 ? sy : sx)))) };
}
