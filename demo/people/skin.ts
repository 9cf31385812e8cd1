import sharp from 'sharp';
import { randomStream } from '../../src/core';
import { grown, lipLine, planOf, worn, type Plan } from './head';
import type { Identity, Look } from './person';

/** The part of the head that the skin's picture covers, seen from the front, in units of the head. */
export const COVER = { x: 0.95, y: 1.35 };
const SCALE = 520;

const px = (x: number): number => Math.round((x + COVER.x) * SCALE * 10) / 10;
const py = (y: number): number => Math.round((COVER.y - y) * SCALE * 10) / 10;
const coded = (v: number): number => Math.round(255 * (v <= 0.0031308 ? 12.92 * v : 1.055 * Math.max(0, v) ** (1 / 2.4) - 0.055));
export const hex = (c: number[]): string => `rgb(${c.map((v) => coded(Math.min(1, v))).join(',')})`;
const scaled = (c: number[], by: number[]): number[] => c.map((v, i) => v * by[i]);

/** A soft spot. */
const spot = (x: number, y: number, rx: number, ry: number, fill: string, opacity: number, blur: number): string =>
  `<ellipse cx="${px(x)}" cy="${py(y)}" rx="${rx * SCALE}" ry="${ry * SCALE}" fill="${fill}" opacity="${opacity}" filter="url(#b${blur})"/>`;

const both = (draw: (side: number) => string): string => draw(1) + draw(-1);

/** The skin of a face as a PNG: complexion, lips, brows, lashes, stubble, freckles, wrinkles. @param size of 1: small heads need less. */
export async function skinPicture(who: Identity, look: Look, size: number): Promise<Buffer> {
  const p = planOf(who, look);
  const width = Math.round(2 * COVER.x * SCALE),
    height = Math.round(2 * COVER.y * SCALE);
  const old = worn(look.age),
    adult = grown(look.age);
  const red = hex(scaled(who.skin, [0.95, 0.62, 0.6])),
    dark = hex(scaled(who.skin, [0.5, 0.42, 0.4]));
  const parts = [
    `<rect width="${width}" height="${height}" fill="${hex(who.skin)}"/>`,
    both((s) => spot(0.42 * s, -0.3, 0.17, 0.15, red, 0.42 + 0.2 * (1 - adult), 30)),
    spot(0, p.noseY, 0.12, 0.1, red, 0.45, 14),
    spot(0, p.chinY + 0.1, 0.16, 0.1, red, 0.2, 30),
    both((s) => spot(p.eyeX * s, p.eyeY - 0.13, 0.13, 0.04, dark, 0.16 + 0.2 * old, 14)),
    both((s) => spot(p.eyeX * s, p.eyeY + 0.1, 0.15, 0.05, dark, 0.16, 14)),
    both((s) => spot(0.055 * s, p.noseY - 0.035, 0.024, 0.013, 'rgb(30,12,9)', 0.9, 3)),
    both((s) => spot(0.15 * s, p.noseY + 0.02, 0.014, 0.05, dark, 0.35, 6)),
    lips(who, look, p),
    both((s) => lashes(who, look, p, s)),
    brows(who, look, p),
    beard(who, look, p),
    wrinkles(look, p, dark),
    freckles(who, look),
  ];
  const blurs = [3, 6, 14, 30].map(
    (b) => `<filter id="b${b}" x="-1" y="-1" width="3" height="3"><feGaussianBlur stdDeviation="${b}"/></filter>`,
  );
  const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="${Math.round(width * size)}" height="${Math.round(height * size)}" viewBox="0 0 ${width} ${height}"><defs>${blurs.join('')}</defs>${parts.join('')}</svg>`;
  const { data, info } = await sharp(Buffer.from(svg)).removeAlpha().raw().toBuffer({ resolveWithObject: true });
  blotched(data, info.width, size, who.seed, look.age);
  return sharp(data, { raw: { width: info.width, height: info.height, channels: 3 } })
    .png()
    .toBuffer();
}

function lips(who: Identity, look: Look, p: Plan): string {
  const full = 1 + 0.35 * who.lips - 0.45 * worn(look.age);
  const at = Array.from({ length: 25 }, (_, i) => (i / 12 - 1) * p.mouthX);
  const edge = (s: number): number => Math.max(0, 1 - (s / p.mouthX) ** 2) ** 0.6;
  const top = at.map((x) => `${px(x)},${py(lipLine(p, Math.abs(x)) + 0.062 * full * edge(x) * (1 - 0.22 * Math.exp(-((x / 0.03) ** 2))))}`);
  const low = at.map((x) => `${px(x)},${py(lipLine(p, Math.abs(x)) - 0.075 * full * edge(x))}`).reverse();
  const line = at.map((x) => `${px(x)},${py(lipLine(p, Math.abs(x)))}`);
  const tone = who.woman && look.age > 16 ? [0.8, 0.4, 0.38] : [0.86, 0.56, 0.53];
  return (
    `<polygon points="${[...top, ...low].join(' ')}" fill="${hex(scaled(who.skin, tone))}" opacity="0.85" filter="url(#b3)"/>` +
    `<polyline points="${line.join(' ')}" fill="none" stroke="rgb(60,20,18)" stroke-width="${4.2}" opacity="0.75" filter="url(#b3)"/>`
  );
}

/** The dark rims of the lids, the upper one stronger. */
function lashes(who: Identity, look: Look, p: Plan, side: number): string {
  const rim = (up: boolean): string =>
    Array.from({ length: 21 }, (_, i) => {
      const u = i / 10 - 1,
        arch = Math.max(0, 1 - u * u);
      const y = p.eyeY + p.slant * u * p.openX + (up ? p.openY * arch ** 0.8 : -p.openY * 0.72 * arch ** 0.9);
      return `${px(side * (p.eyeX + u * p.openX))},${py(y)}`;
    }).join(' ');
  const weight = who.woman ? 1.35 : 1;
  return (
    `<polyline points="${rim(true)}" fill="none" stroke="rgb(25,14,10)" stroke-width="${9 * weight}" opacity="${0.85}" filter="url(#b3)"/>` +
    `<polyline points="${rim(false)}" fill="none" stroke="rgb(70,32,26)" stroke-width="5" opacity="0.6" filter="url(#b3)"/>`
  );
}

/** Many short hairs, upright at the nose, lying outwards further on. */
function brows(who: Identity, look: Look, p: Plan): string {
  const random = randomStream(who.seed + 5);
  const tone = scaled(who.hair, [0.75, 0.75, 0.75]).map((v) => v + 0.12 * worn(look.age));
  const count = Math.round((who.woman ? 150 : 260) * (0.55 + 0.45 * grown(look.age)));
  const hairs: string[] = [];
  for (let i = 0; i < count * 2; i++) {
    const side = i % 2 ? 1 : -1,
      t = random();
    const x = 0.12 + 0.37 * t,
      y = p.eyeY + 0.185 + 0.07 * Math.sin(Math.PI * (0.2 + 0.75 * t)) + (random() - 0.5) * 0.055 * (1.15 - t) + 0.012 * who.brow;
    const turn = 1.2 - 1.35 * t + (random() - 0.5) * 0.5,
      length = 0.035 + 0.02 * random();
    hairs.push(
      `<line x1="${px(side * x)}" y1="${py(y)}" x2="${px(side * (x + length * Math.cos(turn)))}" y2="${py(y + length * Math.sin(turn) * 0.7)}" stroke="${hex(tone)}" stroke-width="${1.4 + random()}" opacity="0.6"/>`,
    );
  }
  return hairs.join('');
}

function beard(who: Identity, look: Look, p: Plan): string {
  const amount = who.woman || look.age < 17 ? 0 : 0.16 + look.beard;
  if (amount === 0) return '';
  const random = randomStream(who.seed + 9);
  const tone = hex(scaled(who.hair, [1, 1, 1]).map((v) => v + 0.3 * worn(look.age)));
  const hairs: string[] = [];
  for (let i = 0; i < 9000 * Math.min(1, amount); i++) {
    const x = (random() * 2 - 1) * 0.62,
      y = p.chinY - 0.15 + random() * 0.85;
    const jaw = y < p.mouthY + 0.02 + 1.1 * Math.max(0, Math.abs(x) - 0.3) && Math.hypot(x, (y - p.mouthY) * 1.4) > 0.1;
    const lip = Math.abs(x) < 0.24 && y > p.mouthY + 0.06 && y < p.noseY - 0.07;
    if (!jaw && !lip) continue;
    hairs.push(
      `<line x1="${px(x)}" y1="${py(y)}" x2="${px(x + (random() - 0.5) * 0.01)}" y2="${py(y - 0.008 - 0.03 * look.beard)}" stroke="${tone}" stroke-width="1.6" opacity="${0.25 + 0.5 * look.beard}"/>`,
    );
  }
  return hairs.join('');
}

function wrinkles(look: Look, p: Plan, dark: string): string {
  const old = worn(look.age);
  if (old < 0.08) return '';
  const curve = (points: [number, number][], width: number): string =>
    `<polyline points="${points.map(([x, y]) => `${px(x)},${py(y)}`).join(' ')}" fill="none" stroke="${dark}" stroke-width="${width}" opacity="${0.5 * old}" filter="url(#b3)"/>`;
  const brow = [0.42, 0.52, 0.62].map((y) =>
    curve(
      [-0.35, -0.2, 0, 0.2, 0.35].map((x, i) => [x, y + [0, 0.025, 0.01, 0.025, 0][i]]),
      5,
    ),
  );
  const feet = both((s) =>
    [-0.05, 0, 0.05]
      .map((a) =>
        curve(
          [
            [s * (p.eyeX + 0.17), p.eyeY + a * 0.4],
            [s * (p.eyeX + 0.3), p.eyeY + a * 2.2],
          ],
          4,
        ),
      )
      .join(''),
  );
  const bags = both((s) =>
    curve(
      [-0.12, -0.06, 0, 0.06, 0.12].map((x, i) => [s * (p.eyeX + x), p.eyeY - 0.14 - [0, 0.03, 0.04, 0.03, 0][i]]),
      6,
    ),
  );
  return brow.join('') + feet + bags;
}

function freckles(who: Identity, look: Look): string {
  const random = randomStream(who.seed + 3);
  if (random() > 0.35 || look.age > 60) return '';
  const tone = hex(scaled(who.skin, [0.62, 0.48, 0.4]));
  return Array.from({ length: 130 }, () => {
    const x = (random() - 0.5) * 1.1,
      y = -0.2 + (random() - 0.5) * 0.4;
    return `<circle cx="${px(x)}" cy="${py(y)}" r="${1.5 + 2 * random()}" fill="${tone}" opacity="${0.25 + 0.3 * random()}"/>`;
  }).join('');
}

/** Unevenness of the complexion, at two sizes. */
function blotched(data: Uint8Array, width: number, size: number, seed: number, age: number): void {
  const random = randomStream(seed + 17);
  const field = (cell: number): ((x: number, y: number) => number) => {
    const side = 64;
    const grid = Float32Array.from({ length: side * side }, () => random() - 0.5);
    return (x, y) => {
      const gx = x / cell,
        gy = y / cell,
        x0 = Math.floor(gx),
        y0 = Math.floor(gy),
        fx = gx - x0,
        fy = gy - y0;
      const at = (i: number, j: number): number => grid[((y0 + j) % side) * side + ((x0 + i) % side)];
      return (at(0, 0) * (1 - fx) + at(1, 0) * fx) * (1 - fy) + (at(0, 1) * (1 - fx) + at(1, 1) * fx) * fy;
    };
  };
  const wide = field(46 * size),
    fine = field(5 * size);
  const strength = 0.05 + 0.06 * worn(age);
  for (let i = 0; i < data.length; i += 3) {
    const x = (i / 3) % width,
      y = Math.floor(i / 3 / width);
    const v = strength * (wide(x, y) + 0.7 * fine(x, y));
    data[i] = Math.min(255, data[i] * (1 + 0.6 * v));
    data[i + 1] = Math.min(255, data[i + 1] * (1 + 1.3 * v));
    data[i + 2] = Math.min(255, data[i + 2] * (1 + 1.2 * v));
  }
}
