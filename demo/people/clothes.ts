import sharp from 'sharp';
import { randomStream } from '../../src/core';
import { ramp } from './ease';
import { BODY, covered } from './body';
import type { Identity, Look } from './person';
import { hex } from './skin';

/** Pixels a unit of the head. */
const SCALE = 230;

const px = (x: number): number => Math.round((x - BODY.left) * SCALE);
const py = (y: number): number => Math.round((BODY.top - y) * SCALE);
const poly = (points: number[][], fill: string, more = ''): string =>
  `<polygon points="${points.map(([x, y]) => `${px(x)},${py(y)}`).join(' ')}" fill="${fill}" ${more}/>`;
const both = (draw: (s: number) => string): string => draw(1) + draw(-1);
const shade = (points: number[][], width = 7, opacity = 0.5): string =>
  `<polyline points="${points.map(([x, y]) => `${px(x)},${py(y)}`).join(' ')}" fill="none" stroke="rgb(0,0,0)" stroke-width="${width}" opacity="${0.6 * opacity}" filter="url(#soft)" class="flat"/>`;
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
      `<circle cx="${px(x) + 2}" cy="${py(y) + 3}" r="7" fill="black" opacity="0.5" filter="url(#soft)" class="flat"/><circle cx="${px(x)}" cy="${py(y)}" r="6" fill="${fill}"/>`,
    );
  return out.join('');
}

/** What clothes are drawn with: colours, or how high they lie. */
interface Paint {
  cloth: string;
  dark: string;
  /** Collar, tie or buttons. */
  second: string;
  shirt: string;
  lapel: string;
}

const PARTS: Record<Look['wear']['kind'], (paint: Paint) => string> = {
  suit: ({ dark, second, shirt, lapel: turnedBack }) => {
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
      poly(front, shirt) +
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
      collar(shirt, -1.82, 0.44) +
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
          poly(lapel, turnedBack) +
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
  jumper: ({ dark, second }) =>
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
  blouse: ({ cloth, second }) =>
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
    ),
  dress: ({ cloth, dark, second }) => {
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
          `<circle cx="${px(-2.3 + ((i * 0.61803) % 1) * 4.6)}" cy="${py(-2.2 - ((i * 0.75488) % 1) * 5)}" r="7" fill="${i % 2 ? cloth : dark}" opacity="0.55" class="flat"/>`,
      ).join('') +
      `<circle cx="${px(0)}" cy="${py(-2.06)}" r="15" fill="${hex([0.2, 0.16, 0.08])}"/><circle cx="${px(-0.015)}" cy="${py(-2.045)}" r="7" fill="${hex([0.6, 0.5, 0.3])}"/>`
    );
  },
  smock: ({ dark, second }) =>
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

/** Where bare skin ends and cloth begins. */
function neckline(look: Look): number[][] {
  return Array.from({ length: 61 }, (_, i) => {
    const x = BODY.left + ((BODY.right - BODY.left) * i) / 60;
    let y = BODY.top;
    while (covered(look, x, y) < 0) y -= 0.01;
    return [x, y];
  });
}

const SOFT = '<filter id="soft" x="-1" y="-1" width="3" height="3"><feGaussianBlur stdDeviation="5"/></filter>';

/** The body as a PNG: clothes of the look, skin where they leave it bare. @param size of 1: small people need less. */
export async function clothesPicture(who: Identity, look: Look, size: number): Promise<Buffer> {
  const width = px(BODY.right),
    height = py(BODY.bottom);
  const { kind, colour, second } = look.wear;
  const paint: Paint = {
    cloth: hex(colour),
    dark: hex(scaled(colour, 0.55)),
    second: hex(second),
    shirt: hex([0.62, 0.61, 0.58]),
    lapel: hex(scaled(colour, 1.06)),
  };
  const bare = neckline(look);
  // Yarns of a cloth are not all of one dye.
  const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="${Math.round(width * size)}" height="${Math.round(height * size)}" viewBox="0 0 ${width} ${height}"><defs>${SOFT}
<filter id="weave"><feTurbulence type="fractalNoise" baseFrequency="0.35 0.5" numOctaves="2" seed="${who.seed}"/><feColorMatrix values="0 0 0 0 0  0 0 0 0 0  0 0 0 0 0  0.9 0 0 0 -0.3"/></filter>
<filter id="flecks"><feTurbulence type="fractalNoise" baseFrequency="0.45 0.3" numOctaves="3" seed="${who.seed + 1}"/><feColorMatrix values="0 0 0 0 1  0 0 0 0 0.97  0 0 0 0 0.9  0 1.6 0 0 -0.75"/></filter>
<filter id="flush"><feTurbulence type="fractalNoise" baseFrequency="0.012" numOctaves="4" seed="${who.seed + 3}"/><feColorMatrix values="0 0 0 0 0.5  0 0 0 0 0.16  0 0 0 0 0.12  1.2 0 0 0 -0.45"/></filter></defs>
<rect width="${width}" height="${height}" fill="${paint.cloth}"/>${PARTS[kind](paint)}<rect width="${width}" height="${height}" filter="url(#weave)" opacity="0.42"/><rect width="${width}" height="${height}" filter="url(#flecks)" opacity="${kind === 'suit' || kind === 'jumper' ? 0.16 : 0.07}"/>
<clipPath id="skin">${poly([[BODY.left, BODY.top], ...bare, [BODY.right, BODY.top]], 'black')}</clipPath>
${poly([[BODY.left, BODY.top], ...bare, [BODY.right, BODY.top]], hex(scaled(who.skin, 0.93)))}<rect width="${width}" height="${height}" filter="url(#flush)" opacity="0.5" clip-path="url(#skin)"/>${shade(bare, 6, 0.35)}</svg>`;
  return sharp(Buffer.from(svg)).removeAlpha().png().toBuffer();
}

/** Height of a level of grey, in units of the head. */
const LEVEL = 0.0024;

/**
 * How high the clothes lie at a place, in units of the head: what is sewn on, creases, and the folds of cloth that hangs from shoulders and bends at
 * elbows.
 */
export async function clothesHeight(who: Identity, look: Look): Promise<(x: number, y: number) => number> {
  const width = px(BODY.right),
    height = py(BODY.bottom);
  const grey = (v: number): string => `rgb(${v},${v},${v})`;
  const stiff = look.wear.kind === 'suit' ? 0.75 : look.wear.kind === 'jumper' ? 0.9 : 1.15;
  const drawn = `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}"><style>.flat { display: none }</style><defs>${SOFT}</defs><rect width="${width}" height="${height}" fill="${grey(128)}"/>
${PARTS[look.wear.kind]({ cloth: grey(134), dark: grey(118), second: grey(142), shirt: grey(124), lapel: grey(140) })}
${poly([[BODY.left, BODY.top], ...neckline(look), [BODY.right, BODY.top]], grey(122))}</svg>`;
  const parts = await sharp(Buffer.from(drawn)).removeAlpha().greyscale().blur(4).raw().toBuffer();
  const bare = await sharp(
    Buffer.from(
      `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}"><rect width="${width}" height="${height}" fill="white"/>${poly([[BODY.left, BODY.top], ...neckline(look), [BODY.right, BODY.top]], 'black')}</svg>`,
    ),
  )
    .greyscale()
    .blur(8)
    .raw()
    .toBuffer();
  const out = new Float32Array(width * height);
  const wander = wanderer(who.seed + 41);
  for (let j = 0; j < height; j++)
    for (let i = 0; i < width; i++) {
      const x = BODY.left + i / SCALE,
        y = BODY.top - j / SCALE,
        at = j * width + i;
      const fold = stiff * folds(x, y, wander);
      out[at] = LEVEL * (parts[at] - 122 + (bare[at] / 255) * (fold + 6));
    }
  return (x, y) => {
    const i = Math.min(width - 1, Math.max(0, px(x))),
      j = Math.min(height - 1, Math.max(0, py(y)));
    return out[j * width + i];
  };
}

/** Smooth noise in two directions, -1 to 1 or so. */
function wanderer(seed: number): (x: number, y: number) => number {
  const random = randomStream(seed);
  const side = 64;
  const grid = Float32Array.from({ length: side * side }, () => 2 * random() - 1);
  const at = (i: number, j: number): number => grid[(((j % side) + side) % side) * side + (((i % side) + side) % side)];
  const eased = (t: number): number => t * t * (3 - 2 * t);
  return (x, y) => {
    const i = Math.floor(x),
      j = Math.floor(y),
      a = eased(x - i),
      b = eased(y - j);
    return (at(i, j) * (1 - a) + at(i + 1, j) * a) * (1 - b) + (at(i, j + 1) * (1 - a) + at(i + 1, j + 1) * a) * b;
  };
}

/** Height of the folds at a place, in levels of 255: drapes from the shoulders, creases across the sleeves, pulls towards the middle. */
function folds(x: number, y: number, wander: (x: number, y: number) => number): number {
  const s = Math.abs(x),
    bend = 0.5 * wander(1.3 * x + 9, 0.8 * y);
  // A crease is narrower than what lies between two.
  const ridge = (v: number): number => 1 - 2 * Math.sqrt(v * v + 0.012);
  const drape = ridge(wander(3.1 * (x + 0.16 * y * Math.sign(x)) + bend, 0.55 * y)) * ramp(-y, 1.8, 3);
  const sleeve = ridge(wander(1.6 * (x + 0.4 * y) + bend, 2.6 * (y + 0.9 * s))) * ramp(s, 1.05, 1.35) * ramp(-y, 2.2, 3);
  const chest = ridge(wander(2.2 * (x * 0.5 + y) + bend, 1.7 * (s - 0.4 * y) + 17)) * (1 - ramp(-y, 2.6, 4)) * 0.55;
  const soft = wander(2.4 * x, 1.7 * y) + 0.5 * wander(5 * x + 30, 4 * y);
  return 10 * drape + 13 * sleeve + 6 * chest + 9 * soft;
}
