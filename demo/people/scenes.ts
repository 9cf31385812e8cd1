import { CAST, lookOf, type Name } from './cast';
import type { Camera, Lamp } from './hairLayer';
import type { Vector } from './head';
import { identity, type Identity, type Look } from './person';
import type { Detail } from './scene';
import { ALBUM, SHEET } from './sheet';

export interface Pose {
  who: Identity;
  look: Look;
  /** Where the head is (x to the left in the picture), its size against 1, and how far the whole body is turned, degrees. */
  at: [number, number, number];
  size?: number;
  body?: number;
}

export interface Scene {
  width: number;
  height: number;
  detail: Detail;
  camera: Camera;
  lamps: Source[];
  /** What is round the people, in POV-Ray's language. */
  set: string;
  people: Pose[];
}

/** A lamp, and how it is spread, in POV-Ray's language. */
interface Source extends Lamp {
  more: string;
}

const of = (name: Name, year: number, at: Pose['at'], more: Partial<Look> = {}, body = 0): Pose => ({
  who: CAST[name].who,
  look: lookOf(name, year, more),
  at,
  body,
});

/** Somebody of the yard, known only from this picture. */
const hand = (seed: number, age: number, at: Pose['at'], more: Partial<Look> = {}, body = 0): Pose => ({
  who: identity(seed, false),
  look: {
    ...lookOf('arthur', CAST.arthur.born + age),
    age,
    wear: {
      kind: 'suit',
      colour: [0.03 + (seed % 7) * 0.015, 0.03 + (seed % 7) * 0.014, 0.035 + (seed % 7) * 0.012],
      second: [0.1, 0.03 * (seed % 4), 0.04],
    },
    ...more,
  },
  at,
  body,
});

const backdrop = (z: number): string =>
  `plane { z,${z} pigment { bozo turbulence .8 lambda 2.4 color_map { [0 rgb <.10,.085,.07>] [.6 rgb <.19,.16,.13>] [1 rgb <.30,.26,.21>] } scale 2.4 } finish { diffuse .8 } }`;

const lamp = (at: Vector, colour: Vector, more = 'shadowless'): Source => ({ at, colour, more });

const WINDOW = [
  lamp([-5, 4.2, 6.5], [1.2, 1.12, 1], 'area_light x*3,y*3,3,3 adaptive 1 jitter'),
  lamp([6, 0, 5], [0.2, 0.2, 0.22]),
  lamp([3, 5, -5], [0.55, 0.52, 0.48], ''),
];

const WHITE: [number, number, number] = [0.6, 0.58, 0.54];

/** Every picture, portrait of the sheet and portrait of an album's leaf. */
export const SCENES: Record<string, Scene> = {
  // A child in the studio, 1932.
  portrait: {
    width: 560,
    height: 700,
    detail: 1,
    camera: { from: [0.3, 0.2, 10], to: [0, -0.75, 0], angle: 23 },
    lamps: WINDOW,
    set: backdrop(-3.2),
    people: [of('harold', 1932, [0, 0, 0], { turn: 14, nod: -2, tilt: 3, gaze: -4, smile: 0.35 }, 8)],
  },
  // The couple in the year they were married, 1921.
  couple: {
    width: 880,
    height: 1100,
    detail: 1,
    camera: { from: [0, 0.4, 14], to: [0, -0.95, 0], angle: 24 },
    lamps: WINDOW,
    set: backdrop(-4),
    people: [
      of('edwin', 1921, [-1.05, 0.62, -0.9], { turn: 14, nod: -1, gaze: -3, smile: 0.08 }, 16),
      of('lilian', 1921, [0.95, -0.2, 0.3], { turn: -12, tilt: 4, gaze: 4, smile: 0.3, hair: 'bun' }, -14),
    ],
  },
  // The yard on the day of a launching, 1948.
  group: {
    width: 1500,
    height: 1000,
    detail: 0.5,
    camera: { from: [0, 1.2, 31], to: [0, -0.75, -1], angle: 30 },
    lamps: [
      lamp([-14, 18, 22], [1.05, 1.02, 0.98], 'area_light x*5,y*5,3,3 adaptive 1 jitter'),
      lamp([18, 8, 16], [0.4, 0.42, 0.45], 'shadowless'),
      lamp([0, 20, 4], [0.25, 0.25, 0.25], 'shadowless'),
    ],
    set: `// Tarred boards of the shed, a door that stands open.
plane { z,-6.5 pigment { gradient x color_map { [0 rgb .012] [.03 rgb .02] [.04 rgb <.085,.077,.07>] [.97 rgb <.115,.105,.095>] [1 rgb .03] } scale 1.15 } normal { granite .25 scale <.25,6,.25> } finish { diffuse .8 } }
box { <6.2,-8,-6.45>, <9.4,4.2,-6.3> pigment { rgb .012 } }
box { <5.9,-8,-6.45>, <6.2,4.5,-6.1> pigment { rgb <.2,.19,.17> } }
box { <9.4,-8,-6.45>, <9.7,4.5,-6.1> pigment { rgb <.2,.19,.17> } }
box { <5.9,4.2,-6.45>, <9.7,4.5,-6.1> pigment { rgb <.2,.19,.17> } }`,
    people: [
      hand(
        71,
        44,
        [-6.9, 0.95, -2.6],
        { turn: 14, hair: 'short', smile: 0.1, beard: 0.7, wear: { kind: 'jumper', colour: [0.05, 0.06, 0.09], second: WHITE } },
        12,
      ),
      hand(85, 23, [-4.0, 1.25, -2.8], { turn: 8, smile: 0.5, wear: { kind: 'jumper', colour: [0.12, 0.11, 0.1], second: WHITE } }, 6),
      of('harold', 1948, [-1.2, 1.35, -2.7], { turn: 6, smile: 0.45 }, 4),
      of('arthur', 1948, [1.75, 1.4, -2.8], { turn: -5, smile: 0.2, glasses: true }, -4),
      hand(97, 60, [4.6, 1.15, -2.7], { turn: -10, hair: 'bald', smile: 0.15, beard: 0.3 }, -8),
      hand(103, 31, [7.3, 0.9, -2.6], { turn: -14, smile: 0.25, wear: { kind: 'jumper', colour: [0.09, 0.08, 0.07], second: WHITE } }, -12),
      of('iris', 1948, [-5.5, -1.55, 0.6], { turn: 12, tilt: -3, smile: 0.6 }, 10),
      of('lilian', 1948, [-2.6, -1.45, 0.8], { turn: 5, smile: 0.3, hair: 'bun' }, 4),
      of('edwin', 1948, [0.45, -1.3, 1.1], { turn: 0, nod: -2, smile: 0.1, beard: 0.15 }, 0),
      of('ruth', 1948, [3.3, -1.5, 0.8], { turn: -7, tilt: 3, smile: 0.5, hair: 'bob' }, -6),
      hand(122, 17, [6.1, -1.6, 0.6], { turn: -12, smile: 0.4, hair: 'fringe' }, -10),
    ],
  },
  // All of the family, Christmas 1962.
  family: {
    width: 1400,
    height: 1000,
    detail: 0.5,
    camera: { from: [0, 1, 29], to: [0, -0.9, -1], angle: 29 },
    lamps: [lamp([-1.6, 3, 28], [1.25, 1.22, 1.18], 'area_light x*.6,y*.6,2,2'), lamp([12, 9, 4], [0.5, 0.38, 0.24], 'shadowless')],
    set: `// A flash beside the lens, a lamp in the room.
// Papered wall with a rail, a framed picture and a branch of fir.
plane { z,-5 pigment { gradient x color_map { [0 rgb <.42,.36,.25>] [.46 rgb <.42,.36,.25>] [.5 rgb <.3,.27,.2>] [.54 rgb <.42,.36,.25>] [1 rgb <.42,.36,.25>] } scale .9 } finish { diffuse .75 } }
box { <-20,-1.6,-4.9>, <20,-1.3,-4.6> pigment { rgb <.16,.1,.06> } finish { specular .3 } }
box { <-7.2,3.1,-4.95>, <-4,6.2,-4.75> pigment { rgb <.14,.09,.05> } finish { specular .4 } }
box { <-6.9,3.4,-4.8>, <-4.3,5.9,-4.7> pigment { gradient y color_map { [0 rgb <.1,.16,.2>] [.45 rgb <.16,.24,.27>] [.5 rgb <.35,.4,.4>] [1 rgb <.5,.55,.6>] } scale 2.5 translate y*3.4 } }
#local N = 0; #local R = seed(62);
#while (N < 260) cone { <6.2+2.2*(rand(R)-.5)*(N/260),6.3-3.2*N/260,-4.4>, .05, <6.2+3.4*(rand(R)-.5)*(.2+N/260),5.9-3.6*N/260,-3.9>, .012 pigment { rgb <.02,.08,.03>*(.6+rand(R)) } } #local N = N+1; #end`,
    people: [
      of('arthur', 1962, [-4.9, 1.2, -2.4], { turn: 10, smile: 0.3, glasses: true }, 10),
      of('ruth', 1962, [-1.7, 1.0, -2.2], { turn: 5, tilt: -3, smile: 0.5, hair: 'bun' }, 4),
      of('harold', 1962, [1.6, 1.35, -2.4], { turn: -4, smile: 0.4 }, -4),
      of('iris', 1962, [4.7, 1.0, -2.3], { turn: -10, smile: 0.6, hair: 'bob' }, -10),
      of(
        'janet',
        1962,
        [-5.0, -1.7, 0.9],
        { turn: 12, smile: 0.7, hair: 'bob', wear: { kind: 'jumper', colour: [0.32, 0.06, 0.05], second: WHITE } },
        10,
      ),
      of('lilian', 1962, [-1.9, -1.25, 0.6], { turn: 6, smile: 0.35, glasses: true }, 4),
      of('edwin', 1962, [1.5, -1.1, 0.6], { turn: -3, nod: -2, smile: 0.2, beard: 0.25 }, -4),
      of('peter', 1962, [4.6, -1.9, 1], { turn: -10, tilt: 4, smile: 0.8, hair: 'short' }, -10),
    ],
  },
  // Cousins on the quay wall, August 1974.
  cousins: {
    width: 1300,
    height: 900,
    detail: 0.8,
    camera: { from: [0, 0.3, 15], to: [0, -1.25, 0], angle: 37 },
    lamps: [
      lamp([9, 12, 10], [1.35, 1.28, 1.12], 'area_light x*.8,y*.8,2,2 adaptive 1 jitter'),
      lamp([-12, 4, 8], [0.3, 0.36, 0.46], 'shadowless'),
    ],
    set: `box { <-1,0,0>, <1,1,.001> scale <27,22,1> translate <0,-12.8,-22> texture { pigment { image_map { png "harbour.png" gamma srgb } scale <2,1,1> translate <-1,0,0> scale <27,22,1> translate <0,-12.8,-22> } finish { diffuse 0 emission .95 } } }`,
    people: [
      of(
        'janet',
        1974,
        [-1.25, -0.1, 0],
        { turn: 12, tilt: 4, smile: 0.75, hair: 'long', wear: { kind: 'blouse', colour: [0.55, 0.25, 0.08], second: [0.5, 0.45, 0.3] } },
        14,
      ),
      of(
        'peter',
        1974,
        [1.4, 0.35, -0.5],
        { turn: -8, tilt: -3, smile: 0.55, hair: 'short', wear: { kind: 'jumper', colour: [0.1, 0.2, 0.1], second: [0.5, 0.4, 0.2] } },
        -12,
      ),
    ],
  },
};

for (const [n, name] of (Object.keys(CAST) as Name[]).entries()) {
  for (const [k, turn] of SHEET.turns.entries()) {
    const age = [30, 38, 46][(n + k) % 3];
    SCENES[`face-${name}-${k}`] = {
      width: SHEET.width,
      height: SHEET.height,
      detail: 0.5,
      camera: { from: [0.3, 0.2, 11], to: [0, -0.4, 0], angle: 17 },
      lamps: WINDOW,
      set: backdrop(-3.2),
      people: [of(name, CAST[name].born + age, [0, 0, 0], { turn, nod: 3 * (k - 1), smile: 0.3 * k }, turn / 2)],
    };
  }
}

// Portraits of the family through the years, for the album's leaves.
for (const { year, people } of ALBUM.leaves) {
  for (const [n, name] of people.entries()) {
    const turn = [-14, 6, 12, -6, 0, 16, -10, 8][(n + year) % 8];
    SCENES[`album-${year}-${name}`] = {
      ...{ width: ALBUM.width, height: ALBUM.height, detail: 0.6 },
      camera: { from: [0.3, 0.2, 11], to: [0, -0.5, 0], angle: 21 },
      lamps: WINDOW,
      set: backdrop(-3.2),
      people: [of(name, year, [0, 0, 0], { turn, nod: ((n + year) % 5) - 2, smile: 0.1 + 0.15 * ((n + year) % 4) }, turn / 2)],
    };
  }
}
