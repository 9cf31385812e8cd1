import { readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import sharp, { type Sharp } from 'sharp';
import { findFaces } from '../src/core/faces/find';
import { fromRgb } from '../src/core/picture/matrix';
import type { Picture } from '../src/core/picture/picture';
import { normalStream } from '../src/core/picture/random';
import { streamInfo } from '../src/core/testing/pictures';
import { FOLDER } from './prints';
import { pictureOf } from './subject';
import type { Row } from './table';

const PLATES = path.resolve(import.meta.dirname, '../demo/plates');
/** Rendered groups, and how many people stand in each. */
const GROUPS = { portrait: 1, couple: 2, cousins: 2, family: 8, group: 11 };
/** Widths of faces in pixels. */
const WIDTHS = [12, 16, 24, 48];
/** What was done to pictures: deviations of blur in pixels and of grain in codes, degrees they are tilted by. */
const DAMAGE = [
  { name: 'as they are', blur: 0, grain: 0, tilt: 0 },
  { name: 'blurred', blur: 1, grain: 0, tilt: 0 },
  { name: 'grainy', blur: 0.5, grain: 10, tilt: 0 },
  { name: 'tilted', blur: 0.5, grain: 4, tilt: 20 },
];

/** A place where a face is, in pixels. */
interface Place {
  x: number;
  y: number;
  width: number;
}

interface Scene {
  data: Buffer;
  width: number;
  height: number;
  places: Place[];
}

const raw = (scene: Scene): Sharp =>
  sharp(scene.data, { raw: { width: scene.width, height: scene.height, channels: 3 }, limitInputPixels: false });

/** The scene reduced until its faces have that width on average, tilted, blurred and with grain. */
async function damaged(
  scene: Scene,
  width: number,
  { blur, grain, tilt }: (typeof DAMAGE)[number],
): Promise<{ picture: Picture; places: Place[] }> {
  const scale = (width * scene.places.length) / scene.places.reduce((sum, p) => sum + p.width, 0);
  const w = Math.round(scene.width * scale),
    h = Math.round(scene.height * scale);
  const small = await raw(scene).resize(w, h, { kernel: 'linear', fit: 'fill' }).raw().toBuffer();
  const turned = sharp(small, { raw: { width: w, height: h, channels: 3 } }).rotate(tilt, { background: '#777' });
  const { data, info } = await (blur > 0 ? turned.blur(Math.max(0.3, blur)) : turned).raw().toBuffer({ resolveWithObject: true });
  const normal = normalStream(width + tilt);
  const samples = new Uint8Array(data);
  if (grain > 0)
    for (let i = 0; i < samples.length; i += 3) {
      const by = grain * normal();
      for (let c = 0; c < 3; c++) samples[i + c] = Math.min(255, Math.max(0, Math.round(samples[i + c] + by)));
    }
  const angle = (Math.PI * tilt) / 180;
  const places = scene.places.map((p) => {
    const x = p.x * scale - w / 2,
      y = p.y * scale - h / 2;
    return {
      x: info.width / 2 + x * Math.cos(angle) - y * Math.sin(angle),
      y: info.height / 2 + x * Math.sin(angle) + y * Math.cos(angle),
      width: p.width * scale,
    };
  });
  const stream = streamInfo({
    ...{ width: info.width, height: info.height, frames: 1, chromaShiftX: 0, chromaShiftY: 0 },
    colour: { matrix: 'bt601', range: 'full', transfer: 'srgb', primaries: 'bt709' },
  });
  return { picture: fromRgb(samples, 3, stream), places };
}

/** The demo's groups as they were rendered; where their faces are, is told by the faces found in them at full size, which all are. */
async function groups(): Promise<Scene[]> {
  const scenes: Scene[] = [];
  for (const [name, count] of Object.entries(GROUPS)) {
    const file = path.join(PLATES, `${name}.png`);
    const found = await findFaces(await pictureOf(file));
    if (found.faces.length !== count) throw new Error(`${name}.png has ${count} people, and ${found.faces.length} faces were found`);
    const { data, info } = await sharp(file).removeAlpha().raw().toBuffer({ resolveWithObject: true });
    const places = found.faces.map((f) => ({
      x: (f.x + f.width / 2) * info.width,
      y: (f.y + f.height / 2) * info.height,
      width: f.width * info.width,
    }));
    scenes.push({ data, width: info.width, height: info.height, places });
  }
  return scenes;
}

/** Photographs of people held out. */
async function photographs(): Promise<Scene[]> {
  const folder = path.join(FOLDER, 'faces');
  const places = JSON.parse(readFileSync(path.join(folder, 'scenes.json'), 'utf8')) as Place[][];
  return Promise.all(
    places.map(async (own, n) => {
      const file = path.join(folder, `scene-${String(n).padStart(2, '0')}.png`);
      const { data, info } = await sharp(file).removeAlpha().raw().toBuffer({ resolveWithObject: true });
      return { data, width: info.width, height: info.height, places: own };
    }),
  );
}

/** How many of the places were found, and how many faces are none. */
async function judged(
  scene: Scene,
  width: number,
  damage: (typeof DAMAGE)[number],
): Promise<{ found: number; all: number; wrong: number }> {
  const { picture, places } = await damaged(scene, width, damage);
  const { faces } = await findFaces(picture);
  const { width: w, height: h } = picture.region;
  const at = faces.map((f) => ({ x: (f.x + f.width / 2) * w, y: (f.y + f.height / 2) * h }));
  const near = (p: Place, q: { x: number; y: number }): boolean => Math.hypot(p.x - q.x, p.y - q.y) < 0.6 * p.width;
  return {
    found: places.filter((p) => at.some((q) => near(p, q))).length,
    all: places.length,
    wrong: at.filter((q) => !places.some((p) => near(p, q))).length,
  };
}

export async function facesFound(): Promise<Row[]> {
  const scenes = { 'rendered groups': await groups(), 'photographs of people held out': await photographs() };
  const rows: Row[] = [];
  let wrong = 0,
    pictures = 0;
  for (const [name, all] of Object.entries(scenes)) {
    const group = `Faces found: ${name}`;
    for (const width of WIDTHS) {
      const shares: string[] = [];
      let found = 0,
        there = 0;
      for (const damage of DAMAGE) {
        let own = 0,
          ownAll = 0;
        for (const scene of all) {
          const one = await judged(scene, width, damage);
          own += one.found;
          ownAll += one.all;
          wrong += one.wrong;
          pictures++;
        }
        shares.push(`${damage.name} ${own}`);
        found += own;
        there += ownAll;
      }
      rows.push({
        group,
        what: `${width} px wide: ${shares.join(', ')}`,
        shown: `${found} of ${there}`,
        value: found / there,
        atLeast: 0.97,
      });
    }
  }
  const held = path.join(FOLDER, 'held');
  for (const file of readdirSync(held).filter((f) => f.startsWith('texture'))) {
    wrong += (await findFaces(await pictureOf(path.join(held, file)))).faces.length;
    pictures++;
  }
  rows.push({
    group: 'Faces found: where there are none',
    what: 'false ones',
    shown: `${wrong} in ${pictures} pictures`,
    value: wrong / pictures,
    atMost: 0.05,
  });
  return rows;
}
