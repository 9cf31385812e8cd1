import { existsSync, readdirSync } from 'node:fs';
import path from 'node:path';
import sharp from 'sharp';
import { findDirt } from '../src/core/dirt/find';
import { dirtMask } from '../src/core/dirt/mask';
import { randomStream } from '../src/core/picture/random';
import { DirtSettings, dirtRule } from '../src/core/treatments/dirt/dirt';
import { FOLDER, mean, readPicture } from './prints';
import type { Row } from './table';

const GROUP = 'Prints: what looks like damage and is none, drawn on held-out photographs as soft as prints are';

/** Longer side of the photographs, their softness in pixels, and how many there are. */
const SIDE = 480,
  SOFT = 1.1,
  COUNT = 24;
const WORDS = [
  'Launching of the boat',
  'Pellow Quay, July',
  'Saturday at noon',
  'since 1919',
  'where the rope is',
  'spliced and laid',
  'for Lilian',
];

/** Drawn things in a picture of such a size, as SVG. */
type Drawing = (width: number, height: number, random: () => number) => string;

const spectacles: Drawing = (width, height, random) => {
  const radius = 7 + 26 * random();
  const [x, y] = [width * (0.25 + 0.5 * random()), height * (0.25 + 0.5 * random())];
  const apart = radius * (1.2 + 0.3 * random()),
    ink = ['#181410', '#3a2c20', '#6e5a34', '#2a2a30'][Math.floor(4 * random())];
  const round = random() < 0.5;
  const lens = (side: number): string =>
    round
      ? `<ellipse cx="${side * apart}" cy="0" rx="${radius}" ry="${0.85 * radius}"/>`
      : `<rect x="${side * apart - radius}" y="${-0.7 * radius}" width="${2 * radius}" height="${1.4 * radius}" rx="${0.4 * radius}"/>`;
  const arm = (side: number): string => `<path d="M${side * (apart + radius)} ${-0.2 * radius}l${side * 0.8 * radius} ${-0.25 * radius}"/>`;
  const bridge = `<path d="M${radius - apart} 0q${apart - radius} ${-0.4 * radius} ${2 * (apart - radius)} 0"/>`;
  const parts = [-1, 1].map((side) => lens(side) + arm(side)).join('') + bridge;
  return `<g transform="translate(${x} ${y}) rotate(${20 * random() - 10})" fill="none" stroke="${ink}" stroke-width="${0.8 + 0.09 * radius}">${parts}</g>`;
};

const lettering: Drawing = (width, height, random) => {
  const size = 9 + 34 * random() ** 2;
  const family = random() < 0.6 ? 'serif' : 'sans-serif';
  const lines = Array.from({ length: 1 + Math.floor((0.6 * height) / size / 1.4) }, (_, n) => {
    const text = Array.from({ length: 3 }, () => WORDS[Math.floor(WORDS.length * random())]).join(' ');
    return `<text x="${0.04 * width}" y="${(n + 1.5) * 1.4 * size}">${text}</text>`;
  });
  return `<g font-family="${family}" font-size="${size}" fill="#2c2824">${lines.join('')}</g>`;
};

interface Lookalike {
  name: string;
  draw: Drawing;
  /** Share of paper laid under it, 0 for none. */
  paper: number;
}

const LOOKALIKES: Lookalike[] = [
  { name: 'rims of spectacles', draw: spectacles, paper: 0 },
  { name: 'lettering', draw: lettering, paper: 0.9 },
];

/** Percent of what was drawn that Dirt, as it comes, takes for damage. */
async function takenOf(file: string, { draw, paper }: Lookalike, seed: number): Promise<number> {
  const scene = sharp(file).removeAlpha().resize({ width: SIDE, height: SIDE, fit: 'inside' });
  const { data, info } = await scene.toBuffer({ resolveWithObject: true });
  const { width, height } = info;
  const svg = (ground: string): Buffer =>
    Buffer.from(
      `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}">${ground}${draw(width, height, randomStream(seed))}</svg>`,
    );
  const drawn = await sharp(data)
    .composite([{ input: svg(`<rect width="${width}" height="${height}" fill="#ded2b4" fill-opacity="${paper}"/>`) }])
    .blur(SOFT)
    .png()
    .toBuffer();
  const cover = await sharp(svg('')).ensureAlpha().extractChannel(3).raw().toBuffer();
  const picture = await readPicture(drawn);
  const mask = dirtMask(await findDirt(picture, picture.region), { ...dirtRule(new DirtSettings()), margin: 0 }, picture.planes[0].data);
  let taken = 0,
    all = 0;
  cover.forEach((v, i) => {
    if (v < 128) return;
    all++;
    taken += mask[i];
  });
  return (100 * taken) / Math.max(1, all);
}

/** Spectacles and lettering that Dirt takes for hairs, scratches and specks. */
export async function lookalikes(): Promise<Row[]> {
  const folder = path.join(FOLDER, 'held');
  if (!existsSync(folder)) throw new Error(`${folder} is missing; "./run train held-out" makes it`);
  const files = readdirSync(folder)
    .filter((file) => file.startsWith('photograph'))
    .sort();
  const rows: Row[] = [];
  for (const each of LOOKALIKES) {
    const shares: number[] = [];
    for (const [n, file] of files.slice(0, COUNT).entries()) shares.push(await takenOf(path.join(folder, file), each, n + 1));
    const value = mean(shares);
    const shown = `${value.toFixed(1)} (worst ${Math.max(...shares).toFixed(0)}, more than a twentieth of ${shares.filter((v) => v > 5).length} of ${shares.length})`;
    rows.push({ group: GROUP, what: `${each.name} taken for damage, % of their pixels`, shown, value, atMost: 2 });
  }
  return rows;
}
