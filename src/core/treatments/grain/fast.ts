import { estimateMotions } from '../../kernels/motion';
import type { MotionField } from '../../kernels/reference/motion';
import { shrinkGrain } from '../../kernels/shrink';
import type { Picture, Plane } from '../../picture/picture';
import type { ApplyContext } from '../treatment';
import { lines, MOTION } from './align';
import type { GrainSettings } from './grain';

/** The middle picture of a window with its grain taken off in its spectrum, with the help of the others. */
export function shrinkPicture(window: Picture[], settings: GrainSettings, { input, output }: ApplyContext): Picture {
  const middle = (window.length - 1) / 2;
  const current = window[middle];
  // At the clip's ends a frame repeats: it has nothing new to say.
  const others = window.filter((p, i) => i !== middle && window.indexOf(p) === i && p !== current);
  const motion = estimateMotions(
    lines(current.planes[0]),
    others.map((p) => lines(p.planes[0])),
    MOTION,
  );
  const planes = current.planes.map((plane, index) => shrinkPlane(plane, index, others, motion, settings, input.frames > 1, current));
  return { info: output, region: current.region, planes };
}

function shrinkPlane(
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

/** Vectors in samples of a coarser plane. */
function scaled(field: MotionField, sx: number, sy: number): MotionField {
  if (!sx && !sy) return field;
  return { ...field, vectors: field.vectors.map((v, i) => Math.round(v / (1 << (i & 1 ? sy : sx)))) };
}
