import { smoothedBroadly } from '../smoothed';

/** Deviations of the Gaussians that tell the light of a face, and how strong its forms are, in parts of the frame (`training/referenceSamples.py`). */
const LIGHT = 0.04,
  AROUND = 0.1;
/** How much stronger or weaker forms may be, and what counts as none, over 1. */
const STRENGTH = { least: 0.5, most: 2 },
  NO_FORM = 2 / 255;

/** The light of a face, and how strong its forms are. */
export interface FaceLight {
  light: Float32Array;
  forms: Float32Array;
}

/** The light that a face is in, place by place. @param luma 0 to 1. */
export function lightOf(luma: Float32Array, side: number): FaceLight {
  const light = smoothedBroadly(luma, side, LIGHT * side);
  const mean = smoothedBroadly(light, side, AROUND * side);
  const squares = smoothedBroadly(
    light.map((v) => v * v),
    side,
    AROUND * side,
  );
  return { light, forms: squares.map((v, i) => Math.sqrt(Math.max(0, v - mean[i] ** 2)) + NO_FORM) };
}

/** Luma in another light, and with forms as strong as they are there. */
export function inLight(reference: Float32Array, face: FaceLight, side: number): Float32Array {
  const own = lightOf(reference, side);
  const out = new Float32Array(reference.length);
  for (let i = 0; i < out.length; i++) {
    const stronger = Math.min(STRENGTH.most, Math.max(STRENGTH.least, face.forms[i] / own.forms[i]));
    out[i] = face.light[i] + stronger * (reference[i] - own.light[i]);
  }
  return out;
}
