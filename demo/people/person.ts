import { randomStream } from '../../src/core';

export type HairStyle = 'short' | 'bob' | 'long' | 'bun' | 'fringe' | 'bald';

/** What makes a face that of one person, from birth on. Shares are about 0, from -1 to 1, where nothing else is said. */
export interface Identity {
  seed: number;
  /** Narrow or wide, of the whole head and of the jaw. */
  width: number;
  jaw: number;
  chin: number;
  cheeks: number;
  brow: number;
  noseLength: number;
  noseWidth: number;
  /** Hooked or upturned. */
  noseBridge: number;
  lips: number;
  mouthWidth: number;
  eyeSize: number;
  eyeGap: number;
  /** Outer corners up or down. */
  eyeSlant: number;
  ears: number;
  /** Linear-light colours, 0 to 1. */
  skin: [number, number, number];
  iris: [number, number, number];
  hair: [number, number, number];
  woman: boolean;
}

/** How the person looks on one picture. */
export interface Look {
  age: number;
  hair: HairStyle;
  /** Of the head, degrees: to its left, up, and towards its left shoulder. */
  turn: number;
  nod: number;
  tilt: number;
  /** Where the eyes look beside that, degrees. */
  gaze: number;
  /** 0 to 1. */
  smile: number;
  glasses: boolean;
  /** 0 to 1: shaven to full. */
  beard: number;
  wear: Wear;
}

/** Clothes, with linear-light colours of the cloth and of collar, tie or buttons. */
export interface Wear {
  kind: 'suit' | 'jumper' | 'blouse' | 'dress' | 'smock';
  colour: [number, number, number];
  second: [number, number, number];
}

/** A made-up person of a seed: the same for the same seed. */
export function identity(seed: number, woman: boolean): Identity {
  const random = randomStream(seed * 7919 + 13);
  // More people are near the middle.
  const share = (): number => (random() + random() - 1) * 1.25;
  const pick = <T>(from: T[]): T => from[Math.floor(random() * from.length)];
  const fair = random();
  return {
    seed,
    width: share(),
    jaw: share() - (woman ? 0.35 : -0.25),
    chin: share() - (woman ? 0.2 : -0.2),
    cheeks: share() + (woman ? 0.15 : 0),
    brow: share() - (woman ? 0.45 : -0.3),
    noseLength: share(),
    noseWidth: share() - (woman ? 0.2 : -0.1),
    noseBridge: share(),
    lips: share() + (woman ? 0.3 : -0.2),
    mouthWidth: share(),
    eyeSize: share() + (woman ? 0.2 : 0),
    eyeGap: share(),
    eyeSlant: share(),
    ears: share(),
    skin: [0.62 + 0.1 * fair, 0.4 + 0.08 * fair, 0.29 + 0.08 * fair],
    iris: pick<[number, number, number]>([
      [0.1, 0.055, 0.025],
      [0.13, 0.19, 0.24],
      [0.12, 0.13, 0.06],
      [0.08, 0.12, 0.16],
    ]),
    hair: pick<[number, number, number]>([
      [0.03, 0.018, 0.012],
      [0.07, 0.038, 0.018],
      [0.16, 0.085, 0.035],
      [0.3, 0.19, 0.085],
      [0.17, 0.055, 0.02],
    ]),
    woman,
  };
}
