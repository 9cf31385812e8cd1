import { existsSync, readdirSync } from 'node:fs';
import path from 'node:path';
import { pointAt, invertPlace } from '../src/shared/maps/place';
import { newPlane, type Plane } from '../src/core/picture/picture';
import { normalStream, randomStream } from '../src/core/picture/random';
import { sampleBetween } from '../src/core/picture/between';
import { findPapers } from '../src/core/warp/findPaper';
import { rectangleTo, type Point, type Quadrilateral } from '../src/core/warp/quadrilateral';
import { FOLDER, readPicture } from './prints';
import type { Row } from './table';

/** Size of the photographs of prints, how many there are, and codes of 255 of their noise. */
const FRAME = { width: 1000, height: 740 },
  COUNT = 30,
  NOISE = 3;
/** Code of 255 of white paper before a scanner's whiter lid. */
const PAPER = 230;
/** Samples of a pixel along each side: edges of paper cover parts of pixels. */
const FINER = 2;

/** A sheet with a picture on it and, of two in three, a white border. */
interface Sheet {
  corners: Quadrilateral;
  picture: Plane;
  border: number;
}

/** A frame of even ground, lit from one side, on which sheets lie. */
function photographed(sheets: Sheet[], random: () => number, normal: () => number): Plane {
  const { width, height } = FRAME;
  const ground = random() < 0.7 ? 25 + 60 * random() : 247 + 7 * random();
  const slope = 0.12 * (random() - 0.5);
  const maps = sheets.map(({ corners, picture, border }) => ({
    back: invertPlace(rectangleTo(corners, picture.width + 2 * border, picture.height + 2 * border)),
    picture,
    border,
  }));
  const out = newPlane(width, height);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      let sum = 0;
      for (let k = 0; k < FINER * FINER; k++) {
        const px = x + ((k % FINER) + 0.5) / FINER,
          py = y + (Math.floor(k / FINER) + 0.5) / FINER;
        let code = ground;
        for (const { back, picture, border } of maps) {
          const p = pointAt(back, px, py);
          if (p.x < 0 || p.y < 0 || p.x > picture.width + 2 * border || p.y > picture.height + 2 * border) continue;
          const inside = p.x >= border && p.y >= border && p.x <= picture.width + border && p.y <= picture.height + border;
          code = inside ? sampleBetween(picture, p.x - border - 0.5, p.y - border - 0.5) / 257 : PAPER;
        }
        sum += code;
      }
      const light = 1 + slope * ((2 * x) / width - 1);
      out.data[y * width + x] = Math.min(65535, Math.max(0, 257 * ((sum / FINER ** 2) * light + NOISE * normal())));
    }
  }
  return out;
}

async function pictures(): Promise<Plane[]> {
  const folder = path.join(FOLDER, 'held');
  if (!existsSync(folder)) throw new Error(`${folder} is missing; "./run train held-out" makes it`);
  const files = readdirSync(folder).filter((f) => f.startsWith('photograph'));
  return Promise.all(files.map(async (file) => (await readPicture(path.join(folder, file))).planes[0]));
}

/** How far the found corners lie from the true ones, as a share of the paper's width; 1 where they are not found. */
function cornersOff(found: Quadrilateral | undefined, truth: Quadrilateral): number[] {
  const width = Math.hypot(truth[1].x - truth[0].x, truth[1].y - truth[0].y);
  return truth.map((p) => (found ? Math.min(...found.map((q) => Math.hypot(p.x - q.x, p.y - q.y))) / width : 1));
}

/** Corners of photographed prints, and several prints on one scan. */
export async function papersFound(): Promise<Row[]> {
  const all = await pictures();
  const random = randomStream(11),
    normal = normalStream(12);
  const between = (a: number, b: number): number => a + (b - a) * random();
  const off: number[] = [];
  for (let n = 0; n < COUNT; n++) {
    const picture = all[n % all.length];
    const border = n % 3 ? Math.round(0.05 * picture.width) : 0;
    const jitter = (x: number, y: number): Point => ({ x: x + between(-75, 75), y: y + between(-60, 60) });
    const corners: Quadrilateral = [jitter(190, 160), jitter(810, 160), jitter(810, 580), jitter(190, 580)];
    const found = findPapers(photographed([{ corners, picture, border }], random, normal)).at(0);
    off.push(...cornersOff(found, corners));
  }
  const sorted = [...off].sort((a, b) => a - b);
  const near = off.filter((v) => v <= 0.003).length / off.length;

  let found = 0,
    there = 0,
    cut = 0,
    more = 0;
  for (let n = 0; n < COUNT / 2; n++) {
    const middles = [
      { x: 260, y: 195 },
      { x: 740, y: 195 },
      { x: 260, y: 545 },
      { x: 740, y: 545 },
    ].slice(0, 2 + (n % 3));
    const sheets = middles.map(({ x, y }, k): Sheet => {
      const picture = all[(3 * n + k) % all.length];
      const [w, h] = [between(260, 350) / 2, between(190, 240) / 2],
        turn = between(-0.15, 0.15);
      const corners = [
        [-w, -h],
        [w, -h],
        [w, h],
        [-w, h],
      ].map(([dx, dy]) => ({
        x: x + dx * Math.cos(turn) - dy * Math.sin(turn),
        y: y + dx * Math.sin(turn) + dy * Math.cos(turn),
      })) as unknown as Quadrilateral;
      return { corners, picture, border: Math.round(0.05 * picture.width) };
    });
    const papers = findPapers(photographed(sheets, random, normal));
    there += sheets.length;
    more += Math.max(0, papers.length - sheets.length);
    for (const { corners } of sheets) {
      const nearest = papers.map((paper) => Math.max(...cornersOff(paper, corners))).sort((a, b) => a - b)[0] ?? 1;
      if (nearest < 0.03) found++;
      if (nearest < 0.03 && nearest > 0.01) cut++;
    }
  }
  const group = 'Geometry: prints before an even ground (held-out photographs, noise 3)';
  return [
    {
      group,
      what: 'corners within 0.3 % of the width',
      shown: `${(100 * near).toFixed(1)} % (middle ${(100 * sorted[sorted.length >> 1]).toFixed(3)} %, worst ${(100 * sorted[sorted.length - 1]).toFixed(1)} %)`,
      value: near,
      atLeast: 0.95,
    },
    { group, what: 'prints found of several on one scan', shown: `${found} of ${there}`, value: found / there, atLeast: 0.98 },
    { group, what: 'prints cut into, and such as are none', shown: `${cut}, ${more}`, value: cut + more, atMost: 0 },
  ];
}
