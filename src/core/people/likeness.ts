import { type Descriptor, descriptorDistance } from '../faces/descriptors';
import told from './crowd.json' with { type: 'json' };

/** A face as it is compared with others. */
export interface LikenessFace {
  residual: Descriptor;
  separable: Descriptor;
  /** Width in pixels of its picture. */
  pixels: number;
  /** Degrees it is turned. */
  yaw: number;
}

/** What a crowd of photographs of strangers says of the descriptors of faces. */
interface Crowd {
  /** What all faces have in common: it tells nobody apart. */
  mean: Descriptor;
  /** Unit vectors along which people differ most: kinds of people rather than persons. */
  directions: Descriptor[];
  /** How much of what lies along each counts, so that people of one kind are as far apart as others. */
  kept: number[];
}

const crowdOf = ({ mean, directions, kept }: (typeof told)['residual']): Crowd => ({
  mean: Float32Array.from(mean),
  directions: directions.map((each) => Float32Array.from(each)),
  kept,
});
/** Of 40 people, in colour and without (`training/crowd.py`, photographs of the packages named in `training/faces.py`). */
export const CROWD = { residual: crowdOf(told.residual), separable: crowdOf(told.separable) };
/** Faces of a collection that count as much as that mean: pictures that are old, soft or brown have more in common. */
const COUNTS_AS = 20;

/** Scales a descriptor to length 1, in place. */
function asUnit(v: Descriptor): Descriptor {
  const length = Math.hypot(...v);
  v.forEach((value, i) => (v[i] = value / length));
  return v;
}

/** What is a person's own, of length 1: less along what tells kinds of people apart. */
function personal(descriptor: Descriptor, { directions, kept }: Crowd): Descriptor {
  const own = Float32Array.from(descriptor);
  directions.forEach((direction, k) => {
    const along = (kept[k] - 1) * direction.reduce((sum, v, i) => sum + v * descriptor[i], 0);
    direction.forEach((v, i) => (own[i] += along * v));
  });
  return asUnit(own);
}

/** Faces without what they have in common and with what is their own, which is how they are compared. */
export function centredFaces<T extends LikenessFace>(faces: readonly T[]): T[] {
  const centred = (name: 'residual' | 'separable'): Descriptor[] => {
    const mean = CROWD[name].mean.map((v) => v * COUNTS_AS);
    for (const face of faces) face[name].forEach((v, i) => (mean[i] += v));
    return faces.map((face) => personal(asUnit(face[name].map((v, i) => v - mean[i] / (COUNTS_AS + faces.length))), CROWD[name]));
  };
  const residual = centred('residual'),
    separable = centred('separable');
  return faces.map((face, n) => ({ ...face, residual: residual[n], separable: separable[n] }));
}

/**
 * The distances of both descriptors at which it is open whether two faces are one person, in which the likeness changes by one, and how much of it the
 * descriptor that says more against it has. Set by strangers, so that hardly two of them are put together, and by people who aged (`./run bench people`).
 */
const OPEN = { residual: 0.65, separable: 0.8 },
  PER = 0.1,
  AGAINST = 0.9;
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
