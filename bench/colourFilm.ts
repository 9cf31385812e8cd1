import { existsSync, readdirSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import sharp from 'sharp';
import { measureFilm } from '../src/core/colour/measureFilm';
import { PictureCache } from '../src/core/graph/cache';
import { compile } from '../src/core/graph/graph';
import { estimateMotions } from '../src/core/kernels/motion';
import type { MotionOptions } from '../src/core/kernels/reference/motion';
import { fromRgb, toRgb } from '../src/core/picture/matrix';
import { newPlane, NEUTRAL_CHROMA, type Picture, type StreamInfo, wholeRegion } from '../src/core/picture/picture';
import { streamInfo } from '../src/core/testing/pictures';
import { madeSource, planOf } from '../src/core/testing/plans';
import { openSource } from '../src/media';
import { probe } from '../src/media/probe';
import type { StrokeMark } from '../src/shared/marks';
import { apart, mean } from './colourTrials';
import { rawBytes, rawInput, timed } from './ffmpeg';
import { FOLDER } from './prints';
import { program } from './program';
import type { Row } from './table';

/** Films made monochrome and coloured, against what they were. */

const FRAMES = 48;
const SIZE = { width: 720, height: 480 };
/** Real films in colours that come with a package: as they are, and the camera moved by hand. */
const PACKAGE = '/usr/share/doc/opencv-doc/examples/data';
const FILMS = ['vtest.avi', 'tree.avi'];
/** Held-out photographs a camera moves over. */
const MOVED_OVER = 4;
const GRAIN = 6;
/** How far the camera goes, in widths of its frame. */
const TRAVEL = 0.25;
const BLOCKS: MotionOptions = { blockWidth: 16, blockHeight: 16, reachX: 7, reachY: 5, penalty: 4 };
/** Mean codes of luma by which a block may be off the one it came from. */
const FOLLOWED = 5;

interface Film {
  name: string;
  frames: Picture[];
}

const info = (planes: 1 | 3, width: number, height: number): StreamInfo =>
  streamInfo({ width, height, planes, frames: FRAMES, chromaShiftX: 0, chromaShiftY: 0, depth: 8 });

/** A camera that goes slowly over a photograph, and nearer. */
async function movedOver(file: string): Promise<Film> {
  const { data, info: own } = await sharp(file).removeAlpha().toColourspace('srgb').raw().toBuffer({ resolveWithObject: true });
  const wide = Math.min(own.width, (own.height * SIZE.width) / SIZE.height);
  const frames = await Promise.all(
    Array.from({ length: FRAMES }, async (_, n) => {
      const width = Math.round(wide * (0.8 - 0.002 * n)),
        height = Math.round((width * SIZE.height) / SIZE.width);
      const left = Math.round((Math.min(TRAVEL * width, own.width - width) * n) / FRAMES),
        top = Math.round((own.height - height) / 3);
      const raw = await sharp(data, { raw: { width: own.width, height: own.height, channels: 3 } })
        .extract({ left, top, width, height })
        .resize(SIZE.width, SIZE.height, { kernel: 'cubic' })
        .raw()
        .toBuffer();
      return fromRgb(new Uint8Array(raw), 3, info(3, SIZE.width, SIZE.height));
    }),
  );
  return { name: path.basename(file), frames };
}

async function filmed(name: string): Promise<Film | undefined> {
  const file = path.join(PACKAGE, name);
  if (!existsSync(file)) return undefined;
  const source = await openSource(file, name, await probe(file));
  const frames: Picture[] = [];
  for (let n = 0; n < FRAMES; n++) frames.push(await source.frame(n, wholeRegion(source.info)));
  source.close?.();
  return { name, frames };
}

async function films(): Promise<Film[]> {
  const folder = path.join(FOLDER, 'held');
  const photographs = readdirSync(folder)
    .filter((name) => name.startsWith('photograph'))
    .sort()
    .slice(0, MOVED_OVER);
  const real = await Promise.all(FILMS.map(filmed));
  return [
    ...real.filter((film) => film !== undefined),
    ...(await Promise.all(photographs.map((name) => movedOver(path.join(folder, name))))),
  ];
}

/** What is left of a frame without colours, with grain of its own. @param sigma in codes of 255. */
function monochrome({ info: own, planes: [luma] }: Picture, frame: number, sigma: number): Picture {
  const plane = newPlane(luma.width, luma.height);
  let seed = 7919 * (frame + 1);
  const chance = (): number => (seed = (Math.imul(seed, 1664525) + 1013904223) >>> 0) / 2 ** 32;
  for (let i = 0; i < plane.data.length; i++) {
    const grain = sigma * 257 * (chance() + chance() + chance() + chance() - 2) * Math.sqrt(3);
    plane.data[i] = Math.min(65535, Math.max(0, luma.data[i] + grain));
  }
  const stream = { ...own, planes: 1 as const, chromaShiftX: 0 as const, chromaShiftY: 0 as const, frames: FRAMES };
  return { info: stream, region: wholeRegion(stream), planes: [plane] };
}

async function coloured(mono: Picture[], settings: Record<string, unknown>, marks: StrokeMark[] = []): Promise<Picture[]> {
  const source = madeSource(mono[0].info, (n) => mono[n]);
  const found = await measureFilm(source.info, (n) => Promise.resolve(mono[n]), {
    ...{ first: 0, end: mono.length },
    progress: () => Promise.resolve(),
  });
  const plan = planOf(['colourise', settings]);
  if (marks.length) Object.assign(plan.steps[0], { marks: 'a'.repeat(64) });
  const graph = compile(plan, source, {
    cache: new PictureCache(0),
    analysis: () => ({ hash: 'film', value: found }),
    marks: () => Promise.resolve(marks),
  });
  const made: Picture[] = [];
  for (let n = 0; n < mono.length; n++) made.push(await graph.output.frame(n, wholeRegion(graph.output.stream)));
  return made;
}

/** Mean codes that chroma changes from frame to frame along the motion of the true film, where its luma follows. */
function flicker(frames: Picture[], truth: Picture[]): number {
  let sum = 0,
    count = 0;
  for (let n = 1; n < truth.length; n += 3) {
    const [now, before] = [truth[n].planes[0], truth[n - 1].planes[0]];
    const [{ columns, vectors }] = estimateMotions({ plane: now, first: 0, step: 1 }, [{ plane: before, first: 0, step: 1 }], BLOCKS);
    vectors.forEach((_, k) => {
      if (k % 2) return;
      const block = k / 2;
      const [x0, y0] = [16 * (block % columns), 16 * Math.floor(block / columns)];
      const inside = (x: number, y: number): boolean => x >= 0 && y >= 0 && x < now.width && y < now.height;
      let off = 0,
        chroma = 0,
        pixels = 0;
      for (let y = y0 + 2; y < y0 + 16; y += 4)
        for (let x = x0 + 2; x < x0 + 16; x += 4) {
          const [u, v] = [x - vectors[k], y - vectors[k + 1]];
          if (!inside(x, y) || !inside(u, v)) continue;
          off += Math.abs(now.data[y * now.width + x] - before.data[v * now.width + u]) / 257;
          for (const index of [1, 2]) chroma += Math.abs(chromaAt(frames[n], index, x, y) - chromaAt(frames[n - 1], index, u, v)) / 257 / 2;
          pixels++;
        }
      if (pixels === 0 || off / pixels > FOLLOWED) return;
      sum += chroma;
      count += pixels;
    });
  }
  return sum / count;
}

const chromaAt = ({ info: { chromaShiftX, chromaShiftY }, planes }: Picture, index: number, x: number, y: number): number =>
  planes[index].data[(y >> chromaShiftY) * planes[index].width + (x >> chromaShiftX)];

/** CIEDE2000 between a frame's colours and the true ones, both as light as the truth. */
const offIn = (made: Picture, truth: Picture): number => apart({ ...made, planes: [truth.planes[0], ...made.planes.slice(1)] }, truth);

function leftGrey(truth: Picture): Picture {
  const [luma, cb, cr] = truth.planes;
  return { ...truth, planes: [luma, ...[cb, cr].map(({ width, height }) => newPlane(width, height, NEUTRAL_CHROMA))] };
}

/** Twenty marks on a film's first frame, in the colours that are there, on a raster with some chance. */
function marksOn(truth: Picture): StrokeMark[] {
  const { width, height } = truth.info;
  const rgb = toRgb(truth, 16);
  return Array.from({ length: 20 }, (_, n) => {
    const x = Math.round(((n % 5) + 0.3 + 0.4 * ((n * 0.618) % 1)) * (width / 5)),
      y = Math.round((Math.floor(n / 5) + 0.3 + 0.4 * ((n * 0.382) % 1)) * (height / 4));
    const hex = [0, 1, 2].map((c) => rgb[3 * (y * width + x) + c].toString(16).padStart(4, '0')).join('');
    return { id: `m${n}`, use: 'colour', on: true, points: [{ x, y }], size: 10, softness: 0, colour: `#${hex}`, frame: 0 };
  });
}

interface Figures {
  name: string;
  /** Chroma's change along motion over the true film's: guessed, and marked by hand. */
  guessed: number;
  marked: number;
  /** Gain of twenty marks on the first frame over grey, at the last frame over the first. */
  kept: number;
}

async function figuresOf({ name, frames }: Film, grain: number): Promise<Figures> {
  const mono = frames.map((frame, n) => monochrome(frame, n, grain));
  const guess = await coloured(mono, {}),
    marked = await coloured(mono, { begin: 'hand' }, marksOn(frames[0]));
  const own = flicker(frames, frames);
  const gain = (n: number): number => offIn(leftGrey(frames[n]), frames[n]) - offIn(marked[n], frames[n]);
  return {
    name,
    guessed: flicker(guess, frames) / own,
    marked: flicker(marked, frames) / own,
    kept: gain(FRAMES - 1) / gain(0),
  };
}

/** Seconds a frame that a film takes from its file to a coloured one, forwards and back, so that both threads have a piece. */
function speedOf({ frames }: Film, work: string): number {
  const raw = path.join(work, 'film.gray'),
    clip = path.join(work, 'film.mkv'),
    plan = path.join(work, 'film.json');
  const shown = [...frames, ...frames.toReversed()].map((frame) => monochrome(frame, 0, 0).planes);
  writeFileSync(raw, rawBytes(shown));
  timed([...rawInput('gray', SIZE.width, SIZE.height, raw), '-c:v', 'ffv1', clip]);
  writeFileSync(plan, JSON.stringify(planOf(['colourise', {}])));
  const examined = program('inspect', clip);
  return (program('treat', clip, '--plan', plan, '--out', path.join(work, 'film.mp4')) - examined) / shown.length;
}

/** Colours of films: how steadily they lie, how far marks of one frame carry, and what a frame takes. */
export async function coloursOfFilms(work: string): Promise<Row[]> {
  const group = 'Colour: films made monochrome (two real ones, four photographs a camera moves over)';
  const rows: Row[] = [];
  for (const grain of [0, GRAIN]) {
    const found: Figures[] = [];
    for (const film of await films()) found.push(await figuresOf(film, grain));
    const ratios = found.flatMap(({ guessed, marked }) => [guessed, marked]);
    const worst = found.reduce((a, b) => (Math.max(b.guessed, b.marked) > Math.max(a.guessed, a.marked) ? b : a));
    const told = grain ? `, with grain of ${grain} that the true film has not` : '';
    rows.push({
      group,
      what: `chroma’s change along motion over the true film’s, guessed and by hand${told}`,
      shown: `${mean(ratios).toFixed(2)} (worst ${Math.max(worst.guessed, worst.marked).toFixed(2)}, ${worst.name})`,
      ...(grain === 0 && { value: mean(ratios), atMost: 1.2 }),
    });
    if (grain) continue;
    const kept = found.map((figures) => figures.kept);
    rows.push({
      group,
      what: 'gain of 20 marks on the first frame over grey, at frame 48 over the first',
      shown: `${mean(kept).toFixed(2)} (worst ${Math.min(...kept).toFixed(2)})`,
    });
    const seconds = speedOf((await films())[FILMS.length], work);
    rows.push({
      group,
      what: '720 x 480, read, measured, coloured and written, two threads, s a frame once examined',
      shown: seconds.toFixed(2),
      value: seconds,
      atMost: 0.25,
      timed: true,
    });
  }
  return rows;
}
