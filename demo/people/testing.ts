import type { Look } from './person';

/** Somebody of 35 years who looks ahead. */
export const LOOK: Look = {
  wear: { kind: 'suit', colour: [0.05, 0.05, 0.05], second: [0.1, 0, 0] },
  age: 35,
  hair: 'short',
  turn: 0,
  nod: 0,
  tilt: 0,
  gaze: 0,
  smile: 0,
  glasses: false,
  beard: 0,
};
