import { groundOf, hinted, onRaster } from '../src/core/colour/colours';
import { guessColours } from '../src/core/colour/guess';
import { layColours } from '../src/core/colour/lay';
import { CHANNELS, spread } from '../src/core/colour/spread';
import type { Links } from '../src/core/colour/links';
import { tonesOf, type Tones } from '../src/core/colour/tones';
import { laidStrokes, type LaidStroke } from '../src/core/marks/strokes';
import { toRgb } from '../src/core/picture/matrix';
import { newPlane, NEUTRAL_CHROMA, type Picture, wholeRegion } from '../src/core/picture/picture';
import { normalStream, randomStream } from '../src/core/picture/random';
import { ColouriseSettings } from '../src/core/treatments/colourise/colourise';
import { SAME_PLACE } from '../src/shared/maps/place';
import type { StrokeMark } from '../src/shared/marks';
import { colourOf } from '../src/shared/settings';
import { apart, differences, inOneColour, laid, mean, percent, still, type Trial, trialsOf } from './colourTrials';
import type { Row } from './table';

/** Hints placed one after the other, and after how many of them it is looked at. */
const HINTS = [1, 5, 20];
/** Diameter of a hint, and side of the squares over which errors are looked at, in pixels. */
const HINT = 7,
  SQUARE = 24;

/** The hint that puts right the square which is furthest off. */
function nextHint(trial: Trial, made: Picture, n: number): StrokeMark {
  const { width } = trial.truth.info;
  const sums = new Map<string, { x: number; y: number; off: number }>();
  for (const { x, y, off } of differences(made, trial.truth)) {
    const key = `${Math.floor(x / SQUARE)} ${Math.floor(y / SQUARE)}`;
    const before = sums.get(key) ?? { x: (Math.floor(x / SQUARE) + 0.5) * SQUARE, y: (Math.floor(y / SQUARE) + 0.5) * SQUARE, off: 0 };
    sums.set(key, { ...before, off: before.off + off });
  }
  const worst = [...sums.values()].reduce((a, b) => (b.off > a.off ? b : a));
  const rgb = toRgb(trial.truth, 16);
  const height = trial.truth.info.height;
  const x = Math.min(width - 1, Math.round(worst.x)),
    y = Math.min(height - 1, Math.round(worst.y));
  const parts = [0, 1, 2].map((c) => {
    const values: number[] = [];
    for (let v = Math.max(0, y - 3); v <= Math.min(height - 1, y + 3); v++)
      for (let u = Math.max(0, x - 3); u <= Math.min(width - 1, x + 3); u++) values.push(rgb[3 * (v * width + u) + c]);
    return mean(values);
  });
  return { id: `hint-${n}`, use: 'colour', on: true, points: [{ x, y }], size: HINT, softness: 0, colour: colourOf(parts) };
}

/** Links of optimised colouring as it was published (Levin, Lischinski and Weiss, 2004): normal in the difference of lightness, by its variance round a place. */
function publishedLinks({ luma, width, height }: Tones): Links {
  const at = (x: number, y: number): number => luma[Math.min(height - 1, Math.max(0, y)) * width + Math.min(width - 1, Math.max(0, x))];
  const across = new Float32Array(luma.length),
    down = new Float32Array(luma.length);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const round = [-1, 0, 1].flatMap((v) => [-1, 0, 1].map((u) => at(x + u, y + v)));
      const middle = mean(round);
      const variance = Math.max(2, 0.6 * mean(round.map((v) => (v - middle) ** 2)));
      const link = (off: number): number => Math.max(1e-5, Math.exp(-(off * off) / variance));
      if (x < width - 1) across[y * width + x] = link(at(x + 1, y) - at(x, y));
      if (y < height - 1) down[y * width + x] = link(at(x, y + 1) - at(x, y));
    }
  return { width, height, across, down };
}

/** Hints spread by that alone: chroma itself, everywhere, with nothing guessed. */
function published(trial: Trial, links: Links, hints: readonly LaidStroke[]): Picture {
  const { width, height } = links;
  const pull = new Float32Array(width * height).fill(1e-7),
    wanted = new Float32Array(CHANNELS * width * height);
  const scale = width / trial.truth.info.width;
  const [, cb, cr] = trial.truth.planes;
  for (const { points } of hints) {
    const [{ x, y }] = points;
    const from = Math.floor(y / scale) * trial.truth.info.width + Math.floor(x / scale);
    for (let v = -3; v <= 3; v++)
      for (let u = -3; u <= 3; u++) {
        const px = Math.floor(x) + u,
          py = Math.floor(y) + v;
        if (px < 0 || py < 0 || px >= width || py >= height) continue;
        const i = py * width + px;
        pull[i] = 1;
        wanted.set([cb.data[from] - NEUTRAL_CHROMA, cr.data[from] - NEUTRAL_CHROMA], CHANNELS * i);
      }
  }
  const found = spread(links, pull, wanted);
  const made = inOneColour(trial, 0, 0);
  const { width: w, height: h } = trial.truth.info;
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      const i = Math.min(height - 1, Math.floor((y * height) / h)) * width + Math.min(width - 1, Math.floor((x * width) / w));
      for (const c of [0, 1])
        made.planes[1 + c].data[y * w + x] = Math.min(65535, Math.max(0, Math.round(NEUTRAL_CHROMA + found[CHANNELS * i + c])));
    }
  return made;
}

function hints(all: Trial[]): Row[] {
  const group =
    'Colour: hints placed where it is furthest off, CIEDE2000 over that of optimised colouring as published with the same hints';
  const { reach } = new ColouriseSettings();
  const found = all.map((trial) => {
    const marks: StrokeMark[] = [];
    const links = publishedLinks(trial.tones);
    let made = laid(trial, trial.ground.colours);
    const rows: { own: number; plain: number }[] = [];
    for (let n = 1; n <= Math.max(...HINTS); n++) {
      marks.push(nextHint(trial, made, n));
      const strokes = laidStrokes(marks, ['colour'], SAME_PLACE).map((stroke) =>
        onRaster(stroke, trial.tones.width / trial.truth.info.width),
      );
      made = laid(trial, hinted(trial.ground, [{ strokes, weight: 1 }], reach / 100));
      if (HINTS.includes(n)) rows.push({ own: apart(made, trial.truth), plain: apart(published(trial, links, strokes), trial.truth) });
    }
    return { rows, grey: apart(inOneColour(trial, 0, 0), trial.truth) };
  });
  const last = mean(found.map(({ rows }) => rows[HINTS.length - 1].own)) / mean(found.map(({ grey }) => grey));
  return [
    ...HINTS.map((count, k): Row => {
      const own = mean(found.map(({ rows }) => rows[k].own)),
        plain = mean(found.map(({ rows }) => rows[k].plain));
      return {
        group,
        what: `${count} ${count === 1 ? 'hint' : 'hints'}`,
        shown: `${own.toFixed(2)} against ${plain.toFixed(2)} (${percent(own / plain)})`,
        value: own / plain,
        atMost: 0.85,
      };
    }),
    { group, what: `${Math.max(...HINTS)} hints, over leaving it grey`, shown: last.toFixed(2), value: last, atMost: 0.5 },
  ];
}

/** Ovals of the drawn scenes. */
const SHAPES = 7;

/** Least part of a scene that gets a hint of its own, in pixels of 480 x 360. */
const LEAST_PART = 600;

/** A part of a drawn scene that hangs together, and its place that is furthest from all others. */
interface Part {
  x: number;
  y: number;
  shape: number;
}

interface Scene {
  mono: Picture;
  /** Which part is seen at each place, -1 where it is too small for one. */
  part: Int16Array;
  parts: Part[];
}

/** A drawn scene of ovals over one another, soft at the edges and grainy. */
function drawn(seed: number, width: number, height: number): Scene {
  const random = randomStream(seed),
    normal = normalStream(seed);
  const shape = new Uint8Array(width * height);
  const levels = Array.from({ length: SHAPES + 1 }, (_, n) => 40 + ((n * 67) % 180));
  for (let n = 1; n <= SHAPES; n++) {
    const [cx, cy, rx, ry] = [random() * width, random() * height, (0.1 + 0.15 * random()) * width, (0.1 + 0.2 * random()) * height];
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) if (((x - cx) / rx) ** 2 + ((y - cy) / ry) ** 2 < 1) shape[y * width + x] = n;
  }
  const info = still(width, height, 1);
  const plane = newPlane(width, height);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      let sum = 0;
      for (let v = -1; v <= 1; v++)
        for (let u = -1; u <= 1; u++)
          sum += levels[shape[Math.min(height - 1, Math.max(0, y + v)) * width + Math.min(width - 1, Math.max(0, x + u))]];
      plane.data[y * width + x] = Math.round(257 * Math.min(255, Math.max(0, sum / 9 + 3 * normal())));
    }
  return { mono: { info, region: wholeRegion(info), planes: [plane] }, ...partsOf(shape, width, height) };
}

function partsOf(shape: Uint8Array, width: number, height: number): Pick<Scene, 'part' | 'parts'> {
  const part = new Int16Array(shape.length).fill(-2);
  const parts: Part[] = [];
  for (let start = 0; start < shape.length; start++) {
    if (part[start] !== -2) continue;
    const places = [start];
    part[start] = parts.length;
    for (const at of places)
      for (const [near, there] of [
        [at - 1, at % width > 0],
        [at + 1, at % width < width - 1],
        [at - width, at >= width],
        [at + width, at < shape.length - width],
      ] as const)
        if (there && part[near] === -2 && shape[near] === shape[at]) {
          part[near] = parts.length;
          places.push(near);
        }
    if (places.length < (LEAST_PART * width * height) / (480 * 360)) {
      for (const at of places) part[at] = -1;
      continue;
    }
    let best = { x: start % width, y: Math.floor(start / width), room: 0 };
    for (const at of places) {
      const x = at % width,
        y = Math.floor(at / width);
      if (x % 4 || y % 4) continue;
      const own = (u: number, v: number): boolean => u >= 0 && v >= 0 && u < width && v < height && part[v * width + u] === parts.length;
      let room = 0;
      while (room < 60 && [-1, 0, 1].every((v) => [-1, 0, 1].every((u) => own(x + u * room, y + v * room)))) room++;
      if (room > best.room) best = { x, y, room };
    }
    parts.push({ x: best.x, y: best.y, shape: shape[start] });
  }
  return { part, parts };
}

const hintsFor = ({ parts }: Scene, size: number): StrokeMark[] =>
  parts.map(({ x, y, shape }, n) => ({ id: `s${n}`, use: 'colour', on: true, points: [{ x, y }], size, softness: 0, colour: hue(shape) }));

/** Colours of the hints, of one strength, evenly round. */
const hue = (n: number): string => {
  const a = (2 * Math.PI * n) / (SHAPES + 1);
  return colourOf([0, 1, 2].map((c) => 257 * (128 + 60 * Math.cos(a - (2 * Math.PI * c) / 3))));
};

function leaks(): Row[] {
  const group = 'Colour: drawn scenes, one hint for each shape';
  const { reach } = new ColouriseSettings();
  const shares = [1, 2, 3, 4, 5, 6, 7, 8].map((seed) => {
    const scene = drawn(seed, 480, 360);
    const { mono, part, parts } = scene;
    const tones = tonesOf(mono);
    const strokes = laidStrokes(hintsFor(scene, 7), ['colour'], SAME_PLACE).map((stroke) =>
      onRaster(stroke, tones.width / mono.info.width),
    );
    const made = layColours(
      mono,
      mono.region,
      still(480, 360, 3),
      tones,
      hinted(groundOf(tones, []), [{ strokes, weight: 1 }], reach / 100),
      { weight: 1 },
    );
    const [, cb, cr] = made.planes;
    const angle = (i: number): number => Math.atan2(cr.data[i] - NEUTRAL_CHROMA, cb.data[i] - NEUTRAL_CHROMA);
    const own = parts.map(({ x, y }) => angle(y * 480 + x));
    const turn = (a: number, b: number): number => Math.abs(Math.atan2(Math.sin(a - b), Math.cos(a - b)));
    let wrong = 0,
      all = 0;
    part.forEach((n, i) => {
      if (n < 0) return;
      all++;
      const right = turn(angle(i), own[n]);
      if (own.some((other, k) => parts[k].shape !== parts[n].shape && turn(angle(i), other) < right)) wrong++;
    });
    return (100 * wrong) / all;
  });
  return [
    {
      group,
      what: 'another’s colour, % of the area',
      shown: `${mean(shares).toFixed(2)} (worst ${Math.max(...shares).toFixed(2)})`,
      value: mean(shares),
      atMost: 2,
    },
  ];
}

/** Milliseconds of the middle one of three runs. */
function timed(work: () => void): number {
  const times = [0, 1, 2].map(() => {
    const start = performance.now();
    work();
    return performance.now() - start;
  });
  return times.sort((a, b) => a - b)[1];
}

async function speeds(): Promise<Row[]> {
  const group = 'Colour: speed';
  const rows: Row[] = [];
  for (const [name, width, height, atMost] of [
    ['one megapixel', 1152, 868, 300],
    ['12 megapixels', 4000, 3000, 2000],
  ] as const) {
    const scene = drawn(3, width, height);
    const { mono } = scene;
    const truth = { ...mono, info: still(width, height, 3) };
    const trial = { mono, truth, ...{ tones: tonesOf(mono) } };
    const ground = groundOf(trial.tones, []);
    const strokes = laidStrokes(hintsFor(scene, 20), ['colour'], SAME_PLACE).map((stroke) => onRaster(stroke, trial.tones.width / width));
    const took = timed(() => void laid(trial, hinted(ground, [{ strokes, weight: 1 }], 0.3)));
    rows.push({ group, what: `all of it after a hint moved, ${name}, ms`, shown: took.toFixed(0), value: took, atMost });
  }
  const { mono } = drawn(5, 720, 480);
  const trial = { mono, truth: { ...mono, info: still(720, 480, 3) }, tones: tonesOf(mono) };
  await guessColours(trial.tones);
  const start = performance.now();
  const guess = await guessColours(tonesOf(mono));
  const ground = groundOf(trial.tones, [], { guess, leaning: 'likely', vividness: 1, quiet: 0.5 });
  laid(trial, ground.colours);
  const took = (performance.now() - start) / 1000;
  rows.push({ group, what: '720 x 480, all of it, s', shown: took.toFixed(2), value: took, atMost: 0.25 });
  return rows;
}

/** Photographs that hints are tried on. */
const HINTED = 12;

/** Colours marked by hand. */
export async function coloursHinted(): Promise<Row[]> {
  return [...hints((await trialsOf('held', 'photograph')).slice(0, HINTED)), ...leaks(), ...(await speeds())];
}
