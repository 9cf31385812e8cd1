import { existsSync, readdirSync } from 'node:fs';
import path from 'node:path';
import sharp from 'sharp';
import { measureFading } from '../src/core/condition/fading';
import type { ConditionReport } from '../src/core/condition/report';
import { colourDifference, labOf } from '../src/core/metrics/colourDifference';
import { TRANSFERS } from '../src/core/picture/light';
import { fromRgb, toRgbPlanes } from '../src/core/picture/matrix';
import { wholeRegion, type Picture } from '../src/core/picture/picture';
import { randomStream } from '../src/core/picture/random';
import { streamInfo } from '../src/core/testing/pictures';
import { unevenAt, WHITE_STOPS } from '../src/core/tone/look';
import { toned } from '../src/core/tone/toned';
import { NegativeSettings, negative } from '../src/core/treatments/negative/negative';
import { ToneSettings } from '../src/core/treatments/tone/settings';
import { lookOf, tone } from '../src/core/treatments/tone/tone';
import { colourOf } from '../src/shared/settings';
import { FOLDER } from './prints';
import type { Row } from './table';

/** Longest side of the pictures, and their white border as a share of it. */
const SIDE = 480,
  BORDER = 0.05;
/** Colours of 255 that a picture has on average at least, to be one in colours. */
const COLOURFUL = 8;
const DARKEST = -9;

/** Light in stops, red, green and blue. */
interface Print {
  name: string;
  width: number;
  height: number;
  /** Pixels of border on each side. */
  border: number;
  stops: Float32Array[];
}

const { toLight, fromLight } = TRANSFERS.srgb;
const stopsOfCode = Float32Array.from({ length: 256 }, (_, v) => Math.max(DARKEST, Math.log2(toLight(v / 255))));

/** Held-out pictures that have colours, each as a print with a border of white paper. @param kind how their names begin. */
async function prints(of: 'held' | 'faces', kind: string): Promise<Print[]> {
  const folder = path.join(FOLDER, of);
  if (!existsSync(folder)) throw new Error(`${folder} is missing; "./run train held-out" makes it`);
  const made: Print[] = [];
  for (const file of readdirSync(folder).sort()) {
    if (!file.startsWith(kind)) continue;
    const { data, info } = await sharp(path.join(folder, file))
      .removeAlpha()
      .toColourspace('srgb')
      .resize({ width: SIDE, height: SIDE, fit: 'inside' })
      .raw()
      .toBuffer({ resolveWithObject: true });
    let colours = 0;
    for (let i = 0; i < data.length; i += 3) colours += Math.abs(data[i] - data[i + 1]) + Math.abs(data[i + 1] - data[i + 2]);
    if ((3 * colours) / data.length < COLOURFUL) continue;
    const border = Math.round(BORDER * Math.max(info.width, info.height));
    const width = info.width + 2 * border,
      height = info.height + 2 * border;
    const stops = [0, 1, 2].map((c) => {
      const plane = new Float32Array(width * height).fill(WHITE_STOPS);
      for (let y = 0; y < info.height; y++)
        for (let x = 0; x < info.width; x++) plane[(y + border) * width + x + border] = stopsOfCode[data[3 * (y * info.width + x) + c]];
      return plane;
    });
    made.push({ name: file, width, height, border, stops });
  }
  return made;
}

/** What a scanner of 8 bits sees of a print after each of its samples was changed. */
function scanned(print: Print, change: (stops: number, c: number, u: number, v: number) => number): Picture {
  const { width, height } = print;
  const samples = new Uint8Array(3 * width * height);
  for (let i = 0; i < width * height; i++) {
    const u = (2 * ((i % width) + 0.5)) / width - 1,
      v = (2 * (Math.floor(i / width) + 0.5)) / height - 1;
    for (let c = 0; c < 3; c++) samples[3 * i + c] = Math.round(255 * fromLight(Math.min(1, 2 ** change(print.stops[c][i], c, u, v))));
  }
  const info = streamInfo({
    ...{ width, height, frames: 1, chromaShiftX: 0, chromaShiftY: 0 },
    colour: { matrix: 'bt601', range: 'full', transfer: 'srgb', primaries: 'bt709' },
  });
  return fromRgb(samples, 3, info);
}

/** Mean CIEDE2000 from a picture to the print in good state, inside its border. @param within where, in parts of what the border holds. */
function apart(picture: Picture, print: Print, within: (u: number, v: number) => boolean = () => true): number {
  const { red, green, blue } = toRgbPlanes(picture);
  const { width, height, border } = print;
  let sum = 0,
    count = 0;
  for (let y = border; y < height - border; y += 2) {
    for (let x = border; x < width - border; x += 2) {
      if (!within((x - border) / (width - 2 * border), (y - border) / (height - 2 * border))) continue;
      const i = y * width + x;
      const made = labOf(...([red, green, blue].map((p) => toLight(p[i] / 65535)) as [number, number, number]));
      const truth = labOf(...(print.stops.map((p) => 2 ** p[i]) as [number, number, number]));
      sum += colourDifference(made, truth);
      count++;
    }
  }
  return sum / count;
}

/** The picture as Tone proposes it, switched on. */
function asProposed(picture: Picture): Picture {
  const measurements = { fading: measureFading(picture), monochrome: false } as ConditionReport['measurements'];
  const settings = tone.propose({ measurements, findings: [], sampled: [0] }, picture.info)?.settings;
  return toned(picture, picture.region, lookOf({ ...new ToneSettings(), ...settings }, picture.info));
}

const mean = (values: number[]): number => values.reduce((sum, v) => sum + v, 0) / values.length;
const most = (values: number[]): number => Math.max(...values);

/** Dyes that faded and paper that yellowed, given back as measured. */
function fading(all: Print[]): Row[] {
  const group = 'Tone: faded prints with a white border, CIEDE2000 to the print in good state (held-out photographs)';
  const random = randomStream(5);
  const rows = all.flatMap((print) =>
    [0, 1].map(() => {
      const left = [0, 1, 2].map(() => 0.4 + 0.6 * random()),
        base = [0.2, 0.4, 0.8].map((v) => v * random());
      const faded = scanned(print, (s, c) => left[c] * s - base[c]);
      return { before: apart(faded, print), after: apart(asProposed(faded), print) };
    }),
  );
  const share = rows.map(({ before, after }) => after / before);
  return [
    { group, what: 'faded', shown: mean(rows.map((r) => r.before)).toFixed(2) },
    {
      group,
      what: 'as measured',
      shown: `${mean(rows.map((r) => r.after)).toFixed(2)} (worst ${most(rows.map((r) => r.after)).toFixed(1)})`,
    },
    {
      group,
      what: 'what is left of it',
      shown: `${mean(share).toFixed(2)} (worst ${most(share).toFixed(2)})`,
      value: mean(share),
      atMost: 0.5,
    },
    { group, what: 'pictures made worse', shown: `${share.filter((v) => v > 1).length} of ${share.length}` },
  ];
}

/** Where faces laid straight have cheeks and foreheads, in parts of the frame, and how far they reach. */
const SKIN = [
  { u: 0.34, v: 0.62 },
  { u: 0.66, v: 0.62 },
  { u: 0.5, v: 0.26 },
];
const REACH = 0.06;
export const isSkin = (u: number, v: number): boolean => SKIN.some((place) => Math.hypot(u - place.u, v - place.v) < REACH);

/** Faded portraits: how near their skin comes. */
function skin(all: Print[]): Row[] {
  const group = 'Tone: skin of faded portraits, CIEDE2000 to the print in good state (people held out)';
  const random = randomStream(9);
  const rows = all.map((print) => {
    const left = [0, 1, 2].map(() => 0.4 + 0.6 * random()),
      base = [0.2, 0.4, 0.8].map((v) => v * random());
    const faded = scanned(print, (s, c) => left[c] * s - base[c]);
    return { before: apart(faded, print, isSkin), after: apart(asProposed(faded), print, isSkin) };
  });
  const after = rows.map((r) => r.after);
  return [
    { group, what: 'faded', shown: mean(rows.map((r) => r.before)).toFixed(2) },
    { group, what: 'as measured', shown: `${mean(after).toFixed(2)} (worst ${most(after).toFixed(1)})`, value: mean(after), atMost: 6 },
    { group, what: 'portraits whose skin is within 6', shown: `${after.filter((v) => v <= 6).length} of ${after.length}` },
  ];
}

/** Casts of wrong light: by the picker on the border, and as measured. */
function casts(all: Print[]): Row[] {
  const group = 'Tone: wrong light over prints, CIEDE2000 to the truth (held-out photographs)';
  const random = randomStream(6);
  const rows = all.map((print) => {
    const cast = [0, 1, 2].map(() => 0.7 * random());
    const seen = scanned(print, (s, c) => s - cast[c]);
    const { red, green, blue } = toRgbPlanes(seen);
    const at = (Math.floor(print.border / 2) + 20) * print.width + Math.floor(print.border / 2);
    const settings = { ...new ToneSettings(), white: colourOf([red[at], green[at], blue[at]]) };
    const picked = toned(seen, seen.region, lookOf(settings, seen.info));
    return { before: apart(seen, print), picked: apart(picked, print), measured: apart(asProposed(seen), print) };
  });
  const row = (what: string, key: 'picked' | 'measured'): Row => {
    const values = rows.map((r) => r[key]);
    return { group, what, shown: `${mean(values).toFixed(2)} (worst ${most(values).toFixed(1)})`, value: mean(values), atMost: 3 };
  };
  return [
    { group, what: 'before', shown: mean(rows.map((r) => r.before)).toFixed(2) },
    row('white picked', 'picked'),
    row('as measured', 'measured'),
  ];
}

/** Light that falls off over a print with a border. */
function uneven(all: Print[]): Row[] {
  const random = randomStream(7);
  const residuals = all.map((print) => {
    const light = { across: 1.2 * (random() - 0.5), down: 1.2 * (random() - 0.5), corners: -0.8 * random() };
    const seen = scanned(print, (s, _, u, v) => s + unevenAt(light, u, v));
    const found = measureFading(seen);
    if (!found) return 100;
    const scale = mean(found.left);
    const off: number[] = [];
    for (let v = -0.9; v <= 0.91; v += 0.1)
      for (let u = -0.9; u <= 0.91; u += 0.1) off.push(unevenAt(light, u, v) + scale * unevenAt(found.uneven, u, v));
    const level = mean(off);
    return 100 * Math.sqrt(mean(off.map((v) => (2 ** (v - level) - 1) ** 2)));
  });
  const group = 'Tone: light that falls off over prints with a white border';
  return [
    {
      group,
      what: 'what is left of it, % of the light',
      shown: `${mean(residuals).toFixed(2)} (worst ${most(residuals).toFixed(1)})`,
      value: mean(residuals),
      atMost: 2,
    },
  ];
}

/** Contrast of the three layers of colour film, and stops that its base holds back of red, green and blue. */
const GAMMAS = [0.55, 0.6, 0.66],
  ORANGE = [0.6, 1.9, 3];

/** Negatives with the film's edge round them, turned. */
async function negatives(all: Print[]): Promise<Row[]> {
  const group = 'Tone: negatives of colour film turned, CIEDE2000 to the truth (held-out photographs)';
  const random = randomStream(8);
  const rows: { found: number; picked: number }[] = [];
  for (const print of all) {
    const gammas = GAMMAS.map((g) => g * (0.9 + 0.2 * random()));
    // The border is the film's edge, which no light has reached.
    const deepest = print.stops.map((plane) => plane.reduce((least, v) => Math.min(least, v), 0));
    const seen = scanned(print, (s, c) => -ORANGE[c] * 0.5 - gammas[c] * (s - deepest[c]));
    const edge = edgeless(
      print,
      seen,
      ORANGE.map((v) => -v * 0.5),
    );
    const ends = [0, 1, 2].map((c) => ({ clear: -ORANGE[c] * 0.5, dense: -ORANGE[c] * 0.5 - gammas[c] * (WHITE_STOPS - deepest[c]) }));
    const code = (stops: number[]): string => colourOf(stops.map((s) => 65535 * fromLight(2 ** s)));
    const turned = async (settings: Partial<NegativeSettings>): Promise<number> => {
      const region = wholeRegion(edge.info);
      const context = {
        ...{
          frame: 0,
          seen: [0],
          region,
          asked: region,
          input: edge.info,
          output: edge.info,
          analyses: {},
          pictures: {},
          marks: [],
          place: [] as never,
        },
        share: <T>(make: () => T): T => make(),
      };
      return apart(await negative.apply([edge], { ...new NegativeSettings(), ...settings }, context), print);
    };
    rows.push({
      found: await turned({}),
      picked: await turned({ clear: code(ends.map((e) => e.clear)), dense: code(ends.map((e) => e.dense)) }),
    });
  }
  return (['found', 'picked'] as const).map((key) => {
    const values = rows.map((r) => r[key]);
    return {
      group,
      what: key === 'found' ? 'ends as the picture has them' : 'ends picked',
      shown: `${mean(values).toFixed(2)} (worst ${most(values).toFixed(1)})`,
      value: mean(values),
      atMost: 5,
    };
  });
}

/** The negative with clear film in place of the print's border. */
function edgeless({ width, height, border }: Print, seen: Picture, clear: number[]): Picture {
  const { red, green, blue } = toRgbPlanes(seen);
  const samples = new Uint16Array(3 * width * height);
  const edge = clear.map((s) => Math.round(65535 * fromLight(2 ** s)));
  for (let i = 0; i < width * height; i++) {
    const x = i % width,
      y = Math.floor(i / width);
    const inside = x >= border && y >= border && x < width - border && y < height - border;
    [red[i], green[i], blue[i]].forEach((v, c) => (samples[3 * i + c] = inside ? v : edge[c]));
  }
  return fromRgb(samples, 3, seen.info);
}

export async function tones(): Promise<Row[]> {
  const all = await prints('held', 'photograph');
  return [...fading(all), ...skin(await prints('faces', 'mixed')), ...casts(all), ...uneven(all), ...(await negatives(all))];
}
