import { mkdirSync, readdirSync } from 'node:fs';
import path from 'node:path';
import sharp from 'sharp';
import { findFaces } from '../src/core/faces/find';
import { FRAME } from '../src/core/faces/frame';
import { randomStream } from '../src/core/picture/random';
import type { Rgb } from '../src/core/vision/rgb';
import { damagedFile, facesFolder, type FramedFace, framedFace, made, POOR, rgbOf, seenAs } from './faceTrials';
import { pictureOf } from './subject';
import type { Row } from './table';

/**
 * What makes a face this person's and no other's: glasses, beards, scars and moles are drawn on held-out faces, which are then made poor and restored. As both
 * pictures are known, with what was drawn and without, so is how much of it a result shows: the part of its difference from the face without it that goes
 * the way of what was drawn, 1 for all of it.
 */

/** Widths of the faces, in pixels. */
const WIDTHS = [32, 48, 64];
/** Share of what the plan without Faces shows of a mark that must be left, to count as kept. */
const KEPT = 0.9;
/** Share of what was drawn that the plan without Faces must show: what is lost before cannot be kept. */
const SHOWN = 0.2;

/** Draws a mark on a frame of side 1. */
type Mark = (random: () => number) => string;

const [leftEye, rightEye, , eyeLine] = [FRAME[0], FRAME[2], FRAME[1], FRAME[3]];

const glasses =
  (colour: string, stroke: number): Mark =>
  () => {
    const [rx, y] = [0.112, eyeLine - 0.01];
    const rims = [leftEye, rightEye].map((x) => `<ellipse cx="${x}" cy="${eyeLine + 0.015}" rx="${rx}" ry="0.09"/>`);
    const bridge = `M${leftEye + rx} ${y}H${rightEye - rx}`,
      temples = `M${leftEye - rx} ${y}L0.12 ${y - 0.03}M${rightEye + rx} ${y}L0.88 ${y - 0.03}`;
    return `<g fill="none" stroke="${colour}" stroke-width="${stroke}">${rims.join('')}<path d="${bridge}${temples}"/></g>`;
  };

const beard =
  (colour: string): Mark =>
  (random) => {
    const hairs = Array.from({ length: 900 }, () => {
      const angle = Math.PI * random(),
        out = 0.2 + 0.8 * Math.sqrt(random());
      const x = 0.5 + 0.29 * out * Math.cos(angle),
        y = 0.7 + 0.27 * out * Math.sin(angle);
      // The mouth stays free.
      if (Math.hypot((x - 0.5) / 0.14, (y - 0.745) / 0.055) < 1) return '';
      return `<path d="M${x} ${y}l${0.03 * (random() - 0.5)} ${0.02 + 0.03 * random()}"/>`;
    });
    return `<g fill="none" stroke="${colour}" stroke-width="0.006" opacity="0.7">${hairs.join('')}</g>`;
  };

const scar: Mark = (random) => {
  const side = random() < 0.5 ? -1 : 1,
    x = 0.5 + side * 0.2;
  const path = `M${x} 0.52q${0.03 * side} 0.07 ${-0.01 * side} 0.16`;
  return `<g fill="none" stroke-linecap="round"><path d="${path}" stroke="#6b3a30" stroke-width="0.024" opacity="0.7"/><path d="${path}" stroke="#f2d8cc" stroke-width="0.009"/></g>`;
};

const mole: Mark = (random) =>
  `<circle cx="${0.5 + (random() < 0.5 ? -1 : 1) * (0.13 + 0.06 * random())}" cy="${0.62 + 0.06 * random()}" r="0.017" fill="#38231c"/>`;

const MARKS: Readonly<Record<string, readonly Mark[]>> = {
  glasses: [glasses('#241b16', 0.02), glasses('#6f6a60', 0.012)],
  beards: [beard('#2b211b'), beard('#8d8780')],
  'scars and moles': [scar, mole],
};

/** A face with a mark drawn on it. */
async function marked({ truth, left, top, side }: FramedFace, mark: Mark, seed: number): Promise<Rgb> {
  const { data, width, height } = truth;
  const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}"><g transform="translate(${left} ${top}) scale(${side})">${mark(randomStream(seed))}</g></svg>`;
  const drawn = await sharp(data, { raw: { width, height, channels: 3 } })
    .composite([{ input: Buffer.from(svg) }])
    .removeAlpha()
    .raw()
    .toBuffer();
  return { data: new Uint8Array(drawn), width, height };
}

/** How much of what was drawn a picture shows. */
function shownIn({ data }: Rgb, without: Rgb, drawn: Rgb): number {
  let along = 0,
    all = 0;
  for (let i = 0; i < data.length; i++) {
    const difference = drawn.data[i] - without.data[i];
    along += difference * (data[i] - without.data[i]);
    all += difference ** 2;
  }
  return along / all;
}

/** Shares of what the plan without Faces shows of each mark that is left with Faces. */
async function kept(what: string, width: number, work: string): Promise<{ left: number[]; unseen: number }> {
  const names = readdirSync(facesFolder()).filter((name) => /^(real|mixed)-/.test(name));
  const marks = MARKS[what],
    left: number[] = [];
  let unseen = 0;
  for (const [n, name] of names.sort().entries()) {
    const face = await framedFace(name, width);
    if (!face) continue;
    const drawn = await marked(face, marks[n % marks.length], n);
    const file = await damagedFile(drawn, POOR, n, path.join(work, `${width}-${name}.jpg`));
    const source = await pictureOf(file);
    const faces = await findFaces(source);
    if (faces.faces.length === 0) continue;
    const before = rgbOf(await made(source, faces, POOR, { restore: false })),
      after = rgbOf(await made(source, faces, POOR, { restore: true }));
    const trial = { ...face, name, file, damage: POOR };
    if (process.env.WAIRETIC_SEEN) await seenAs(`kept-${what}-${width}-${n}.png`, [before, after, drawn], trial);
    const shown = shownIn(before, face.truth, drawn);
    if (shown < SHOWN) unseen++;
    else left.push(shownIn(after, face.truth, drawn) / shown);
  }
  return { left, unseen };
}

export async function marksKept(work: string): Promise<Row[]> {
  mkdirSync(work, { recursive: true });
  const group = `Faces: what is drawn on held-out faces of ${WIDTHS.join(', ')} px, blurred, grain 8, JPEG 50, made twice as large: at least ${100 * KEPT} % of what the plan without Faces shows of it is left`;
  const rows: Row[] = [];
  for (const what of Object.keys(MARKS)) {
    const all = { left: [] as number[], unseen: 0 };
    for (const width of WIDTHS) {
      const { left, unseen } = await kept(what, width, work);
      all.left.push(...left);
      all.unseen += unseen;
    }
    const count = all.left.filter((share) => share >= KEPT).length;
    const mean = all.left.reduce((sum, v) => sum + v, 0) / all.left.length;
    rows.push({
      group,
      what,
      shown: `${count} of ${all.left.length} (${(100 * mean).toFixed(0)} % on average, worst ${(100 * Math.min(...all.left)).toFixed(0)} %; lost before: ${all.unseen})`,
      value: count / all.left.length,
      atLeast: 0.99,
    });
  }
  return rows;
}
