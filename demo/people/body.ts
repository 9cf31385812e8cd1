import sharp from 'sharp';
import { grown, type Vector } from './head';
import type { Identity, Look } from './person';
import { hex } from './skin';

/** The part of the body that the clothes' picture covers, seen from the front, in units of the head. */
export const BODY = { left: -2.4, right: 2.4, top: -0.8, bottom: -7.2 };
const SCALE = 230;

const ramp = (v: number, from: number, to: number): number => {
  const t = Math.min(1, Math.max(0, (v - from) / (to - from)));
  return t * t * (3 - 2 * t);
};
const gauss = (v: number, s: number): number => Math.exp(-(v * v) / (2 * s * s));

/** Half width, half depth and middle of a body at a height. */
function section(who: Identity, look: Look, y: number): { a: number; b: number; z: number } {
  const adult = grown(look.age);
  const neck = (who.woman ? 0.39 : 0.47) * (0.78 + 0.22 * adult) + 0.02 * who.width;
  const shoulder = ((who.woman ? 1.42 : 1.64) + 0.06 * who.jaw) * (0.72 + 0.28 * adult);
  const top = -1.05 - 0.14 * adult,
    low = top - 0.95;
  const t = Math.min(1, Math.max(0, (top - y) / (top - low)));
  // The muscle from the neck slopes, then the shoulder rounds off.
  const slope = 0.8 * ramp(t, 0, 1) + 0.2 * t * (2 - t);
  const flare = 0.07 * ramp(y, top + 0.15, top - 0.05);
  const a = neck + flare + (shoulder - neck) * slope + 0.1 * ramp(-y, -low - 0.2, -low + 0.9);
  const chest = (who.woman ? 0.2 * gauss(y + 3.0, 0.5) * adult : 0.08 * gauss(y + 2.7, 0.6)) + 0.2 * ramp(-y, -low - 0.2, 3.4);
  const b = neck * 1.04 + (0.62 - neck) * ramp(-y, -top, -low + 0.3) + chest;
  return { a, b, z: -0.24 + 0.06 * ramp(-y, 1.4, 2.6) };
}

/** Above 0 where cloth lies, by how far inside its edge; below 0 bare skin. */
function covered(look: Look, x: number, y: number): number {
  const edge = {
    suit: -1.3,
    jumper: -1.46 - 0.25 * (x / 0.5) ** 2 * -0.3,
    blouse: -1.34 - 0.5 * Math.max(0, 0.24 - Math.abs(x)),
    dress: -1.62 - 0.32 * Math.sqrt(Math.max(0, 1 - (x / 0.75) ** 2)),
    smock: -1.4,
  }[look.wear.kind];
  return edge - y;
}

const ROUND = 120,
  LEVELS = 200;

/** The grid of the body's skin and clothes: points row by row, ROUND + 1 a row. */
export function bodyPoints(who: Identity, look: Look): { points: Vector[]; across: number; down: number } {
  const points: Vector[] = [];
  for (let j = 0; j <= LEVELS; j++) {
    const y = BODY.top + (BODY.bottom - BODY.top) * (j / LEVELS);
    const { a, b, z } = section(who, look, y);
    for (let i = 0; i <= ROUND; i++) {
      // Seam at the back.
      const angle = -Math.PI + (2 * Math.PI * i) / ROUND;
      const s = Math.sin(angle),
        c = Math.cos(angle);
      let x = a * Math.sign(s) * Math.abs(s) ** 0.86,
        out = b * Math.sign(c) * Math.abs(c) ** 0.8;
      const cloth = ramp(covered(look, x, y), 0, 0.05);
      x *= 1 + (0.035 / a) * cloth;
      out *= 1 + (0.035 / b) * cloth;
      // The arm beside the chest, and folds that hang from the shoulder.
      const low = ramp(-y, 2.3, 3);
      if (c > 0) {
        out -= 0.16 * low * gauss(Math.abs(x) - 0.74 * a, 0.09) * cloth;
        out += 0.022 * cloth * low * Math.sin(9 * x + 5 * y + who.seed) * Math.sin(2.1 * y + 3 * x);
        out += 0.03 * cloth * gauss(y + 2.1 + 0.3 * Math.abs(x), 0.18) * Math.sin(14 * Math.abs(x) + who.seed);
      }
      points.push([x, y, z + out]);
    }
  }
  return { points, across: ROUND + 1, down: LEVELS + 1 };
}

const px = (x: number): number => Math.round((x - BODY.left) * SCALE);
const py = (y: number): number => Math.round((BODY.top - y) * SCALE);
const poly = (points: number[][], fill: string, more = ''): string =>
  `<polygon points="${points.map(([x, y]) => `${px(x)},${py(y)}`).join(' ')}" fill="${fill}" ${more}/>`;
const both = (draw: (s: number) => string): string => draw(1) + draw(-1);
const shade = (points: number[][], width = 7, opacity = 0.5): string =>
  `<polyline points="${points.map(([x, y]) => `${px(x)},${py(y)}`).join(' ')}" fill="none" stroke="rgb(0,0,0)" stroke-width="${width}" opacity="${opacity}" filter="url(#soft)"/>`;
const scaled = (c: number[], by: number): number[] => c.map((v) => v * by);

/** A shirt's collar: two wings under the chin. */
function collar(fill: string, deep: number, wide: number): string {
  return both((s) => {
    const wing = [
      [s * 0.02, -1.56],
      [s * 0.3, -1.22],
      [s * 0.5, -1.24],
      [s * wide, -1.5],
      [s * 0.26, deep],
    ];
    return (
      shade(
        [
          [s * 0.03, -1.6],
          [s * 0.27, deep - 0.04],
          [s * (wide + 0.02), -1.54],
        ],
        9,
        0.55,
      ) + poly(wing, fill)
    );
  });
}

function buttons(x: number, from: number, to: number, step: number, fill: string): string {
  const out: string[] = [];
  for (let y = from; y > to; y -= step)
    out.push(
      `<circle cx="${px(x) + 2}" cy="${py(y) + 3}" r="7" fill="black" opacity="0.5" filter="url(#soft)"/><circle cx="${px(x)}" cy="${py(y)}" r="6" fill="${fill}"/>`,
    );
  return out.join('');
}

const PARTS: Record<Look['wear']['kind'], (cloth: string, dark: string, second: string) => string> = {
  suit: (cloth, dark, second) => {
    const white = hex([0.62, 0.61, 0.58]);
    const front = [
      [-0.56, -1.2],
      [0.56, -1.2],
      [0.05, -3.1],
      [-0.05, -3.1],
    ];
    const tie = [
      [-0.07, -1.52],
      [0.07, -1.52],
      [0.12, -2.2],
      [0.04, -3.2],
      [-0.04, -3.2],
      [-0.12, -2.2],
    ];
    const knot = [
      [-0.1, -1.42],
      [0.1, -1.42],
      [0.07, -1.6],
      [-0.07, -1.6],
    ];
    return (
      poly(front, white) +
      shade(
        [
          [0.14, -1.7],
          [0.13, -2.2],
          [0.05, -3],
        ],
        6,
        0.4,
      ) +
      poly(tie, second) +
      shade(
        [
          [-0.08, -1.6],
          [0.08, -1.6],
        ],
        4,
        0.6,
      ) +
      poly(knot, second) +
      collar(white, -1.82, 0.44) +
      both((s) => {
        const lapel = [
          [s * 0.5, -1.3],
          [s * 0.62, -1.3],
          [s * 0.95, -1.98],
          [s * 0.72, -2.06],
          [s * 0.78, -2.18],
          [s * 0.04, -3.2],
        ];
        return (
          shade(
            [
              [s * 0.97, -2],
              [s * 0.74, -2.1],
              [s * 0.8, -2.22],
              [s * 0.06, -3.24],
            ],
            10,
            0.7,
          ) +
          poly(lapel, cloth) +
          shade(
            [
              [s * 0.52, -1.32],
              [s * 0.3, -2.3],
              [s * 0.03, -3.2],
            ],
            7,
            0.75,
          )
        );
      }) +
      shade(
        [
          [0, -3.2],
          [0.02, -7.2],
        ],
        6,
        0.6,
      ) +
      buttons(0.06, -3.4, -4.6, 0.55, dark)
    );
  },
  jumper: (_, dark, second) =>
    collar(second, -1.86, 0.42) +
    shade(
      [
        [-0.55, -1.42],
        [-0.3, -1.62],
        [0, -1.7],
        [0.3, -1.62],
        [0.55, -1.42],
      ],
      12,
      0.35,
    ) +
    Array.from(
      { length: 84 },
      (_x, i) =>
        `<line x1="${px(BODY.left + i * 0.058)}" y1="0" x2="${px(BODY.left + i * 0.058)}" y2="${py(BODY.bottom)}" stroke="${dark}" stroke-width="2.4" opacity="0.35"/>`,
    ).join(''),
  blouse: (cloth, dark, second) =>
    shade(
      [
        [0.07, -1.6],
        [0.09, -7.2],
      ],
      4,
      0.4,
    ) +
    shade(
      [
        [-0.07, -1.6],
        [-0.06, -7.2],
      ],
      4,
      0.25,
    ) +
    collar(cloth, -2.02, 0.5) +
    buttons(0.01, -1.85, -4.6, 0.42, second) +
    both((s) =>
      shade(
        [
          [s * 0.9, -2.0],
          [s * 0.7, -2.9],
          [s * 0.66, -4],
        ],
        16,
        0.16,
      ),
    ) +
    shade(
      [
        [-0.4, -2.4],
        [-0.3, -3.2],
      ],
      12,
      0.14,
    ) +
    (dark ? '' : ''),
  dress: (cloth, dark, second) => {
    const ring = (r: number, drop: number): number[][] =>
      Array.from({ length: 21 }, (_, i) => {
        const x = -r + (2 * r * i) / 20;
        return [x, -1.5 - drop * Math.sqrt(Math.max(0, 1 - (x / r) ** 2)) - 0.1];
      });
    return (
      shade(ring(1.02, 0.72), 12, 0.4) +
      poly([...ring(1.0, 0.68), ...ring(0.74, 0.36).reverse()], second) +
      Array.from({ length: 46 }, (_, i) => {
        const t = (i / 45) * Math.PI;
        return `<circle cx="${px(-1.0 * Math.cos(t))}" cy="${py(-1.6 - 0.68 * Math.sin(t))}" r="9" fill="${second}"/>`;
      }).join('') +
      Array.from(
        { length: 150 },
        (_, i) =>
          `<circle cx="${px(-2.3 + ((i * 0.61803) % 1) * 4.6)}" cy="${py(-2.2 - ((i * 0.75488) % 1) * 5)}" r="7" fill="${i % 2 ? cloth : dark}" opacity="0.55"/>`,
      ).join('') +
      `<circle cx="${px(0)}" cy="${py(-2.06)}" r="15" fill="${hex([0.2, 0.16, 0.08])}"/><circle cx="${px(-0.015)}" cy="${py(-2.045)}" r="7" fill="${hex([0.6, 0.5, 0.3])}"/>`
    );
  },
  smock: (_, dark, second) =>
    both(
      (s) =>
        shade(
          [
            [s * 0.2, -2.1],
            [s * 0.28, -5],
          ],
          14,
          0.22,
        ) +
        shade(
          [
            [s * 0.6, -2.2],
            [s * 0.72, -5],
          ],
          14,
          0.22,
        ),
    ) +
    shade(
      [
        [-1.06, -2.1],
        [0, -2.36],
        [1.06, -2.1],
      ],
      14,
      0.5,
    ) +
    poly(
      [
        [-0.5, -1.3],
        [-0.95, -1.75],
        [-0.9, -2.05],
        [-0.4, -2.28],
        [-0.02, -2.0],
        [0.4, -2.28],
        [0.9, -2.05],
        [0.95, -1.75],
        [0.5, -1.3],
      ],
      second,
    ) +
    buttons(0, -2.5, -3.6, 0.4, dark),
};

/** The body as a PNG: clothes of the look, skin where they leave it bare. */
export async function clothesPicture(who: Identity, look: Look): Promise<Buffer> {
  const width = px(BODY.right),
    height = py(BODY.bottom);
  const { kind, colour, second } = look.wear;
  const cloth = hex(colour),
    dark = hex(scaled(colour, 0.55));
  const bare = Array.from({ length: 61 }, (_, i) => {
    const x = BODY.left + ((BODY.right - BODY.left) * i) / 60;
    let y = BODY.top;
    while (covered(look, x, y) < 0) y -= 0.01;
    return [x, y];
  });
  const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}"><defs><filter id="soft" x="-1" y="-1" width="3" height="3"><feGaussianBlur stdDeviation="5"/></filter>
<filter id="weave"><feTurbulence type="fractalNoise" baseFrequency="0.35 0.5" numOctaves="2" seed="${who.seed}"/><feColorMatrix values="0 0 0 0 0  0 0 0 0 0  0 0 0 0 0  0.9 0 0 0 -0.3"/></filter></defs>
<rect width="${width}" height="${height}" fill="${cloth}"/>${PARTS[kind](cloth, dark, hex(second))}<rect width="${width}" height="${height}" filter="url(#weave)" opacity="0.3"/>
${poly([[BODY.left, BODY.top], ...bare, [BODY.right, BODY.top]], hex(scaled(who.skin, 0.93)))}${shade(bare, 6, 0.35)}</svg>`;
  return sharp(Buffer.from(svg)).removeAlpha().png().toBuffer();
}
