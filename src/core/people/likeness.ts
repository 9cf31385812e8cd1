import { type Descriptor, descriptorDistance } from '../faces/descriptors';
import means from './means.json' with { type: 'json' };

/** A face as it is compared with others. */
export interface LikenessFace {
  residual: Descriptor;
  separable: Descriptor;
  /** Width in pixels of its picture. */
  pixels: number;
  /** Degrees it is turned. */
  yaw: number;
}

/**
 * Mean descriptors of photographs of 85 people, in colour and without (`training/faces.py`, made of the packages named there): what all faces have in
 * common tells nobody apart.
 */
export const MEAN_FACE = { residual: Float32Array.from(means.residual), separable: Float32Array.from(means.separable) };
/** Faces of a collection that count as much as that mean: pictures that are old, soft or brown have more in common. */
const COUNTS_AS = 20;

/** Faces without what they have in common, which is how they are compared. */
export function centredFaces<T extends LikenessFace>(faces: readonly T[]): T[] {
  const centred = (name: 'residual' | 'separable'): Descriptor[] => {
    const mean = MEAN_FACE[name].map((v) => v * COUNTS_AS);
    for (const face of faces) face[name].forEach((v, i) => (mean[i] += v));
    return faces.map((face) => {
      const own = face[name].map((v, i) => v - mean[i] / (COUNTS_AS + faces.length));
      const length = Math.hypot(...own);
      return own.map((v) => v / length);
    });
  };
  const residual = centred('residual'),
    separable = centred('separable');
  return faces.map((face, n) => ({ ...face, residual: residual[n], separable: separable[n] }));
}

/**
 * The distances of both descriptors at which it is open whether two faces are one person, in which the likeness changes by one, and how much of it the
 * descriptor that says more against it has. Set by strangers, so that hardly two of them are put together, and by people who aged (`./run bench people`).
 */
const OPEN = { residual: 0.5, separable: 0.65 },
  PER = 0.1,
  AGAINST = 0.6;
/** Pixels from which a face is described as well as it can be, and the least share that what a poor one says counts. */
const CLEAR = 48,
  LEAST = 0.35;
/** Degrees of turn that count nothing, and in which half of the rest is lost. */
const FRONT = 15,
  HALF_TURN = 45;

/** How far what a face says can be relied on, 0 to 1. */
export function clearness({ pixels, yaw }: Pick<LikenessFace, 'pixels' | 'yaw'>): number {
  const size = Math.min(1, Math.max(LEAST, pixels / CLEAR));
  return size * 0.5 ** (Math.max(0, Math.abs(yaw) - FRONT) / HALF_TURN);
}

/** How far two centred faces look like one person: above 0 rather one than two, and the higher the surer. Poor ones say less, both ways. */
export function likeness(a: LikenessFace, b: LikenessFace): number {
  const said = [OPEN.residual - descriptorDistance(a.residual, b.residual), OPEN.separable - descriptorDistance(a.separable, b.separable)];
  const both = AGAINST * Math.min(...said) + (1 - AGAINST) * Math.max(...said);
  return (both / PER) * Math.min(clearness(a), clearness(b));
}
