import { readdirSync } from 'node:fs';
import path from 'node:path';
import sharp from 'sharp';
import { describeFaces } from '../src/core/faces/describe';
import { describer } from '../src/core/faces/descriptors';
import { findFaces } from '../src/core/faces/find';
import { type GroupFace, groupFaces, type PairAnswer } from '../src/core/people/group';
import { centredFaces, likeness } from '../src/core/people/likeness';
import { rowsOf, toldByPlace } from './demoPeople';
import { FOLDER } from './prints';
import { pictureOf } from './subject';
import type { Row } from './table';

const MEDIA = path.resolve(import.meta.dirname, '../demo/media');

/** The demo's pictures of people as they came, damage and all, and whose picture each is. */
const ITEMS: Record<string, string> = {
  'Edwin and Lilian, 1921.tif': 'couple',
  'Portrait of a child.tif': 'portrait',
  'Launching day, 1948.jpg': 'group',
  'Christmas 1962.jpg': 'family',
  'Janet and Peter, 1974.jpg': 'cousins',
  'Photo of a photo.jpg': 'couple',
  ...Object.fromEntries([1928, 1937, 1955, 1968, 1983, 2004].map((year) => [`Album leaf, ${year}.jpg`, `album-${year}`])),
};

interface Known extends GroupFace {
  who: string;
}

/** The faces of all pictures with who they are, by where they stand; of those not all of whose faces were found, none can be told by its place. */
async function knownFaces(): Promise<{ faces: Known[]; seen: number; there: number }> {
  const faces: Known[] = [];
  let seen = 0,
    there = 0;
  for (const [file, name] of Object.entries(ITEMS)) {
    const picture = await pictureOf(path.join(MEDIA, file));
    const described = await describeFaces(picture, await findFaces(picture));
    const expected = rowsOf(name).flat().length;
    there += expected;
    seen += Math.min(expected, described.length);
    if (described.length !== expected) console.error(`${file}: ${described.length} faces of ${expected}`);
    for (const { face, who } of toldByPlace(described, name)) faces.push({ ...face, id: `${file} ${who}`, picture: file, who });
  }
  return { faces, seen, there };
}

/** Pairs of one person that are together, pairs that are together and should not be, and all pairs of one person. */
function judged(faces: Known[], groups: string[][]): { right: number; wrong: number; all: number } {
  const who = new Map(faces.map(({ id, who: name }) => [id, name]));
  const pairs = (count: number): number => (count * (count - 1)) / 2;
  const counts = (ids: readonly string[]): number[] => {
    const found = new Map<string | undefined, number>();
    for (const id of ids) found.set(who.get(id), (found.get(who.get(id)) ?? 0) + 1);
    return [...found.values()];
  };
  let right = 0,
    together = 0;
  for (const ids of groups) {
    right += counts(ids).reduce((sum, n) => sum + pairs(n), 0);
    together += pairs(ids.length);
  }
  const all = counts(faces.map(({ id }) => id)).reduce((sum, n) => sum + pairs(n), 0);
  return { right, wrong: together - right, all };
}

/** A photograph each of many people, none of whom is seen twice. */
async function strangers(): Promise<Known[]> {
  const folder = path.join(FOLDER, 'faces');
  const networks = [await describer('residual'), await describer('separable')];
  const faces: Known[] = [];
  for (const file of readdirSync(folder).filter((name) => name.startsWith('stranger-'))) {
    const { data, info } = await sharp(path.join(folder, file)).removeAlpha().raw().toBuffer({ resolveWithObject: true });
    const rgb = { data: new Uint8Array(data), width: info.width, height: info.height };
    const frame = { a: info.width, b: 0, x: 0, y: 0 };
    const [residual, separable] = [await networks[0].at(rgb, frame), await networks[1].at(rgb, frame)];
    faces.push({ id: file, picture: file, who: file, pixels: info.width, yaw: 0, residual, separable });
  }
  return faces;
}

/** Faces of the demo's people put together, before and after whoever knows them answered what is asked. */
export async function peopleGrouped(): Promise<Row[]> {
  const { faces, seen, there } = await knownFaces();
  if (process.env.WAIRETIC_SEEN) spread(faces);
  const who = new Map(faces.map(({ id, who: name }) => [id, name]));
  const answers: PairAnswer[] = [];
  const first = groupFaces(faces, []);
  let last = first;
  while (last.questions.length) {
    const [{ a, b }] = last.questions;
    answers.push({ a, b, said: who.get(a) === who.get(b) ? 'same' : 'different' });
    last = groupFaces(faces, answers);
  }
  const group = `People: ${new Set(who.values()).size} of the demo, ${faces.length} faces of 1921 to 2004 in damaged pictures`;
  const percent = (share: number): string => `${(100 * share).toFixed(1)} %`;
  const before = judged(faces, first.groups),
    after = judged(faces, last.groups);
  const precision = before.right / (before.right + before.wrong),
    recall = before.right / before.all,
    reviewed = after.right / after.all;
  const others = await strangers();
  const { wrong } = judged(others, groupFaces(others, []).groups);
  const pairs = (others.length * (others.length - 1)) / 2;
  return [
    { group, what: 'found and laid straight', shown: `${seen} of ${there}`, value: seen / there, atLeast: 0.97 },
    { group, what: 'precision over pairs put together', shown: percent(precision), value: precision, atLeast: 0.99 },
    { group, what: 'recall over pairs of one person', shown: percent(recall), value: recall, atLeast: 0.85 },
    {
      group,
      what: 'recall after what was asked is answered',
      shown: `${percent(reviewed)}, ${answers.length} questions`,
      value: reviewed,
      atLeast: 0.98,
    },
    {
      group: 'People: photographs of strangers',
      what: 'pairs put together',
      shown: `${wrong} of ${pairs}`,
      value: wrong / pairs,
      atMost: 0.01,
    },
  ];
}

/** Says how likenesses of one person and of two lie. */
function spread(known: Known[]): void {
  const faces = centredFaces(known);
  const same: { by: number; pair: string }[] = [],
    other: typeof same = [];
  faces.forEach((a, i) => {
    for (const b of faces.slice(0, i))
      if (a.picture !== b.picture) (a.who === b.who ? same : other).push({ by: likeness(a, b), pair: `${a.id} | ${b.id}` });
  });
  for (const list of [same, other]) list.sort((x, y) => x.by - y.by);
  const at = (list: typeof same, share: number): string => list[Math.round(share * (list.length - 1))].by.toFixed(2);
  console.error('one person', [0, 0.05, 0.1, 0.25, 0.5, 0.75, 1].map((share) => at(same, share)).join(' '));
  console.error('two people', [0, 0.25, 0.5, 0.75, 0.9, 0.95, 0.99, 1].map((share) => at(other, share)).join(' '));
  for (const { by, pair } of other.slice(-12)) console.error(by.toFixed(2), pair);
}
