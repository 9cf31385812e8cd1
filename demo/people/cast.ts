import { identity, type HairStyle, type Identity, type Look, type Wear } from './person';

/** A person of the made-up village, with what stays the same through their years. */
export interface Member {
  name: string;
  born: number;
  who: Identity;
}

const member = (name: string, born: number, seed: number, woman: boolean): Member => ({ name, born, who: identity(seed, woman) });

/** The Marrows of Pellow Quay, boatbuilders. All made up. */
export const CAST = {
  edwin: member('Edwin Marrow', 1895, 4, false),
  lilian: member('Lilian Marrow', 1898, 7, true),
  ruth: member('Ruth Hessel, born Marrow', 1922, 33, true),
  harold: member('Harold Marrow', 1925, 12, false),
  arthur: member('Arthur Hessel', 1919, 18, false),
  janet: member('Janet Hessel', 1950, 46, true),
  peter: member('Peter Marrow', 1953, 51, false),
  iris: member('Iris Marrow', 1929, 64, true),
} as const;

export type Name = keyof typeof CAST;

/** Cloth of dresses and of suits. */
const DRESSES: Wear['colour'][] = [
    [0.09, 0.13, 0.19],
    [0.2, 0.06, 0.06],
    [0.28, 0.25, 0.2],
    [0.07, 0.14, 0.09],
    [0.4, 0.36, 0.32],
  ],
  TIES: Wear['second'][] = [
    [0.14, 0.05, 0.04],
    [0.03, 0.04, 0.09],
    [0.1, 0.1, 0.1],
    [0.05, 0.09, 0.06],
  ],
  SUITS: Wear['colour'][] = [
    [0.045, 0.045, 0.055],
    [0.09, 0.075, 0.06],
    [0.12, 0.12, 0.125],
  ];
const WHITE: Wear['colour'] = [0.6, 0.58, 0.54];

/** Hair and clothes a person of that age and sex would wear where nothing else is said. */
function usual({ who }: Member, age: number): { hair: HairStyle; wear: Wear } {
  if (age < 12) return { hair: who.woman ? 'bob' : 'fringe', wear: { kind: 'smock', colour: [0.12, 0.15, 0.21], second: WHITE } };
  if (who.woman)
    return age > 55
      ? { hair: 'bun', wear: { kind: 'blouse', colour: WHITE, second: [0.3, 0.28, 0.25] } }
      : { hair: who.seed % 2 ? 'bob' : 'bun', wear: { kind: 'dress', colour: DRESSES[who.seed % DRESSES.length], second: WHITE } };
  return {
    hair: age > 58 ? 'bald' : 'short',
    wear: { kind: 'suit', colour: SUITS[who.seed % SUITS.length], second: TIES[who.seed % TIES.length] },
  };
}

/** A member of the cast in a year: age, hair and clothes follow, the rest as told. */
export function lookOf(name: Name, year: number, more: Partial<Look> = {}): Look {
  const person = CAST[name];
  const age = year - person.born;
  return { age, ...usual(person, age), turn: 0, nod: 0, tilt: 0, gaze: 0, smile: 0.25, glasses: false, beard: 0, ...more };
}
