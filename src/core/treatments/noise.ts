import { codingSpectrum, grainSpectrum } from '../kernels/reference/windows';
import { chromaGrid, type StreamInfo } from '../picture/picture';

/** Noise as the windows take it: its deviation in codes of 255, and its power in each coefficient against the mean of all. */
export interface Noise {
  sigma: number;
  spectrum: Float32Array;
}

/** Pixels round a part that the windows over it reach: eight samples of the coarsest plane. */
export const windowBorder = (info: StreamInfo): number => 8 * chromaGrid(info);

/** Deviation of the noise that coding leaves in a picture by itself, as a share of its step. */
const OF_STEP = 0.75;
/** Deviation of coding noise in clips, whose frames are coded by their neighbours, as a share of the step. */
const OF_STEP_MOVING = 0.425;
/** Chroma is coded more coarsely than luma. */
const CHROMA = 1.2;

/** What a codec of a quantiser step leaves, in codes on orthonormal coefficients; `chroma` of a plane of colour. */
export const codingNoise = (step: number, moving: boolean, chroma: boolean): Noise => ({
  sigma: step * (moving ? OF_STEP_MOVING : OF_STEP) * (chroma ? CHROMA : 1),
  spectrum: codingSpectrum(),
});

/** Grain of a deviation, whose grains have a radius in samples. */
export const grainNoise = (sigma: number, size: number): Noise => ({ sigma, spectrum: grainSpectrum(size) });

/** Two noises that know nothing of each other. */
export function addedNoise(a: Noise, b: Noise): Noise {
  const power = a.sigma ** 2 + b.sigma ** 2;
  if (power === 0) return a;
  return { sigma: Math.sqrt(power), spectrum: a.spectrum.map((v, i) => (v * a.sigma ** 2 + b.spectrum[i] * b.sigma ** 2) / power) };
}
