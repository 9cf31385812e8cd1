import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { SAME_PLACE } from '../../shared/maps/place';
import type { StrokeMark } from '../../shared/marks';
import { laidStrokes, type LaidStroke } from '../marks/strokes';
import { asColour } from '../picture/asColour';
import { toRgb } from '../picture/matrix';
import { cutPicture, newPlane, NEUTRAL_CHROMA, type Picture, type StreamInfo, wholeRegion } from '../picture/picture';
import { CHROMA_SHIFTS, picture, streamInfo } from '../testing/pictures';
import { chosen, CLASSES, doubtOf } from './classes';
import { type Colours, groundOf, type GuessTaken, hinted, tinted } from './colours';
import { type Guess, takeWash } from './guess';
import { layColours, madeRoom } from './lay';
import { toneLaid } from './toning';
import { tonesOf, type Tones } from './tones';

const still = (part: Partial<StreamInfo> = {}): StreamInfo =>
  streamInfo({ width: 160, height: 120, frames: 1, chromaShiftX: 0, chromaShiftY: 0, ...part });
const grey = (): Picture => {
  const made = picture(still({ planes: 1 }));
  return made;
};
const spreadOver = (tones: Tones, strokes: LaidStroke[], taken?: GuessTaken): Colours =>
  hinted(groundOf(tones, strokes, taken), [{ strokes, weight: 1 }], 0.5);

/** A disc of another lightness than its ground. */
function disc(): Picture {
  const info = still({ planes: 1 });
  const plane = newPlane(info.width, info.height);
  for (let y = 0; y < info.height; y++)
    for (let x = 0; x < info.width; x++) plane.data[y * info.width + x] = Math.hypot(x - 80, y - 60) < 35 ? 40000 : 20000;
  return { info, region: wholeRegion(info), planes: [plane] };
}

const mark = (use: StrokeMark['use'], x: number, y: number, colour?: string): StrokeMark => ({
  ...{ id: `${use}-${x}-${y}`, use, on: true, size: 6, softness: 0 },
  points: [{ x, y }],
  ...(colour && { colour }),
});

const RED = '#b0b040404040',
  BLUE = '#40404040b0b0';

it('tints stay where they are painted, and fade out at their soft edge', () => {
  const picture = disc();
  const tones = tonesOf(picture);
  const [stroke] = laidStrokes([{ ...mark('tint', 80, 60, RED), size: 20, softness: 0.5 }], ['tint'], SAME_PLACE);
  const ground = groundOf(tones, []);
  const plain = ground.colours;
  const marked = [{ strokes: [stroke], weight: 1 }];
  const { cr } = tinted(hinted(ground, marked, 0.5), marked, ground.links);
  const at = (x: number): number => cr[60 * tones.width + x];
  expect(at(80)).toBeGreaterThan(20);
  expect(at(87)).toBeGreaterThan(1);
  expect(at(87)).toBeLessThan(at(80));
  expect(at(92)).toBe(0);
  expect(plain.cr.every((v) => v === 0)).toBe(true);
  expect(tinted(plain, [{ strokes: [stroke], weight: 0.5 }], ground.links).cr[60 * tones.width + 80]).toBeCloseTo(at(80) / 2, 4);
});

it('a hint far off outdoes one whose colour a leaking edge lets pass', () => {
  const [width, height, wall] = [200, 8, 20];
  const across = Float32Array.from({ length: width * height }, (_, i) => (i % width === width - 1 ? 0 : i % width === wall ? 0.01 : 1));
  const down = Float32Array.from({ length: width * height }, (_, i) => (i < width * (height - 1) ? 1 : 0));
  const none = (): Float32Array => new Float32Array(width * height);
  const strokes = laidStrokes([mark('colour', 15, 4, RED), mark('colour', 190, 4, BLUE)], ['colour'], SAME_PLACE);
  const ground = { links: { width, height, across, down }, colours: { width, height, cb: none(), cr: none() } };
  const { cb } = hinted(ground, [{ strokes, weight: 1 }], 0.3);
  const at = (x: number): number => cb[4 * width + x];
  expect(at(wall - 2)).toBeLessThan(0);
  expect(at(wall + 5)).toBeGreaterThan(0);
});

it('an area is tinted as far as it hangs together, and no further', () => {
  const tones = tonesOf(disc());
  const { colours, links } = groundOf(tones, []);
  const [stroke] = laidStrokes([mark('area', 5, 5, BLUE)], ['area'], SAME_PLACE);
  const { cb } = tinted(colours, [{ strokes: [stroke], weight: 1 }], links);
  // All round the disc, and not on it.
  for (const [x, y] of [
    [150, 5],
    [5, 110],
    [150, 110],
  ])
    expect(cb[y * tones.width + x]).toBeGreaterThan(0.6 * cb[5 * tones.width + 5]);
  expect(cb[5 * tones.width + 5]).toBeGreaterThan(20);
  expect(cb[60 * tones.width + 80]).toBeLessThan(1);
});

describe('a wash over all of a picture', () => {
  const NOTHING = new Float32Array(100);
  /** Half of it red, a quarter grey, a quarter a little blue; yellowish all over but there. */
  const washed = (): Guess['answers'] => {
    const likely = Int8Array.from({ length: 200 }, (_, i) => (i % 100 < 50 ? (i < 100 ? -30 : 50) : i % 100 < 75 ? 0 : i < 100 ? 12 : -8));
    return { likely, warm: likely.map((v) => v + 5), cool: likely.slice() };
  };
  const mean = (likely: Int8Array, from: number): number => likely.subarray(from, from + 100).reduce((sum, v) => sum + v, 0) / 100;

  it('is taken back to what is likely, and what is grey or of another colour stays as it is', () => {
    const answers = washed();
    takeWash(answers, NOTHING);
    expect(Math.hypot(mean(answers.likely, 0), mean(answers.likely, 100))).toBeCloseTo(16, 0);
    for (const i of [60, 90, 160, 190]) expect(answers.likely[i]).toBe(washed().likely[i]);
    expect(answers.likely[0]).toBeGreaterThan(-30);
    expect(answers.likely[0]).toBeLessThan(0);
  });

  it('is none where it is weaker, and leaves what is known by other means', () => {
    const pale = { ...washed(), likely: new Int8Array(200).fill(6) };
    takeWash(pale, NOTHING);
    expect(pale.likely).toEqual(new Int8Array(200).fill(6));
    const answers = washed();
    takeWash(
      answers,
      NOTHING.map((_, i) => Number(i < 10)),
    );
    expect(answers.likely[5]).toBe(-30);
    expect(answers.likely[20]).toBeGreaterThan(-30);
  });
});

describe('classes of colour', () => {
  it('are what the network was taught: 149, grey in the middle', () => {
    expect(CLASSES).toHaveLength(149);
    expect(CLASSES[74]).toEqual({ cb: 0, cr: 0 });
    expect(CLASSES[0]).toEqual({ cb: -84, cr: 0 });
  });

  it('give the likeliest rather than the mean, and others where one leans', () => {
    const likely = new Float32Array(CLASSES.length);
    const at = (cb: number, cr: number): number => CLASSES.findIndex((c) => c.cb === cb && c.cr === cr);
    likely[at(-36, 36)] = 0.6;
    likely[at(36, -36)] = 0.4;
    expect(chosen(likely, 'likely').cr).toBeGreaterThan(0.2 * 36);
    expect(chosen(likely, 'warm').cr).toBeGreaterThan(30);
    expect(chosen(likely, 'cool').cr).toBeLessThan(-20);
    expect(doubtOf(likely)).toBeCloseTo(Math.sqrt(2 * 36 ** 2 * (1 - 0.2 ** 2)), 3);
    likely.fill(0)[at(12, 0)] = 1;
    expect([chosen(likely, 'cool'), doubtOf(likely)]).toEqual([{ cb: 12, cr: 0 }, 0]);
  });
});

describe('own colours of a picture', () => {
  const tinted = (share: number, tone: [number, number]): Tones => {
    const made = picture(still());
    const [, cb, cr] = made.planes;
    cb.data.fill(NEUTRAL_CHROMA + 256 * tone[0]);
    cr.data.fill(NEUTRAL_CHROMA + 256 * tone[1]);
    for (let y = 0; y < 120; y++) for (let x = 0; x < 160 * share; x++) cr.data[y * 160 + x] = NEUTRAL_CHROMA + 256 * 40;
    return tonesOf(made);
  };

  it('are none, a tone, tinted parts, or all over', () => {
    expect(tonesOf(grey()).own).toBe('none');
    expect(tinted(0, [0, 0]).own).toBe('none');
    expect(tinted(0, [-9, 6]).own).toBe('toned');
    expect(tinted(0.08, [-9, 6]).own).toBe('tinted');
    const made = picture(still());
    made.planes[1].data.forEach((_, i) => (made.planes[1].data[i] = NEUTRAL_CHROMA + 256 * Math.round(30 * Math.sin(i / 900))));
    expect(tonesOf(made).own).toBe('coloured');
  });

  it('are kept where they are more than a tone', () => {
    const { kept } = tinted(0.08, [-9, 6]);
    expect([kept[60 * 160 + 4], kept[60 * 160 + 100]]).toEqual([255, 0]);
  });
});

describe('hints', () => {
  it('colour what goes on alike and stop at its edge', () => {
    const source = disc();
    const tones = tonesOf(source);
    const strokes = laidStrokes([mark('colour', 80, 60, RED), mark('colour', 10, 10, BLUE)], ['colour'], SAME_PLACE);
    const { cb, cr } = spreadOver(tones, strokes);
    const at = (x: number, y: number): [number, number] => [cb[y * 160 + x], cr[y * 160 + x]];
    const [inside, outside] = [at(60, 75), at(40, 20)];
    expect(inside[1]).toBeGreaterThan(20);
    expect(outside[0]).toBeGreaterThan(20);
    // Leaks are judged over the area, two pixels off the edge.
    let wrong = 0;
    for (let y = 0; y < 120; y++)
      for (let x = 0; x < 160; x++) {
        const off = Math.hypot(x - 80, y - 60) - 35;
        const [b, r] = at(x, y);
        if (Math.abs(off) > 2 && off < 0 !== r > b) wrong++;
      }
    expect(wrong).toBe(0);
  });

  it('take colour away where there is none, and stop at a border', () => {
    const flat = disc();
    flat.planes[0].data.fill(30000);
    const tones = tonesOf(flat);
    const border: StrokeMark = {
      ...mark('bar', 80, 0),
      size: 3,
      points: [
        { x: 80, y: -5 },
        { x: 80, y: 125 },
      ],
    };
    const strokes = laidStrokes([mark('colour', 40, 60, RED), mark('neutral', 120, 60), border], ['colour', 'neutral', 'bar'], SAME_PLACE);
    const { cr } = spreadOver(tones, strokes);
    expect(cr[30 * 160 + 60]).toBeGreaterThan(20);
    expect(Math.abs(cr[30 * 160 + 100])).toBeLessThan(0.5);
  });

  it('go over a guess near them, and leave it far away', () => {
    const tones = tonesOf(disc());
    const size = 28 * 21;
    const answers = Object.fromEntries(
      ['likely', 'warm', 'cool'].map((k) => [k, Int8Array.from({ length: 2 * size }, (_, i) => (i < size ? 20 : 0))]),
    );
    const guess: Guess = { width: 28, height: 21, answers: answers as Guess['answers'], doubt: new Uint8Array(size) };
    const taken: GuessTaken = { guess, leaning: 'likely', vividness: 1, quiet: 0 };
    const strokes = laidStrokes([mark('colour', 80, 60, RED)], ['colour'], SAME_PLACE);
    const { cb, cr } = spreadOver(tones, strokes, taken);
    expect(cr[60 * 160 + 70]).toBeGreaterThan(20);
    expect([Math.round(cr[5 * 160 + 5]), cb[5 * 160 + 5] > 10]).toEqual([0, true]);
    const doubted = spreadOver(tones, [], { ...taken, quiet: 1, guess: { ...guess, doubt: guess.doubt.map(() => 60) } });
    expect(Math.abs(doubted.cb[5 * 160 + 5])).toBeLessThan(0.5);
  });
});

describe('colours laid over a picture', () => {
  const strong = ({ width, height }: Tones): Colours => ({
    ...{ width, height },
    cb: new Float32Array(width * height).map((_, i) => 200 * Math.sin(i / 40)),
    cr: new Float32Array(width * height).map((_, i) => 200 * Math.cos(i / 90)),
  });

  it('leave luma to the last bit and keep within what there is', () => {
    const source = grey();
    const tones = tonesOf(source);
    const output: StreamInfo = { ...source.info, planes: 3, depth: 16 };
    const made = layColours(source, source.region, output, tones, strong(tones), { weight: 1 });
    expect(made.planes[0].data).toEqual(source.planes[0].data);
    // Were colours beyond the gamut, red, green or blue would be clipped and their luma another.
    const rgb = toRgb(made, 16);
    const { red, green, blue } = { red: 0.299, green: 0.587, blue: 0.114 };
    for (let i = 0; i < made.planes[0].data.length; i += 37) {
      const luma = red * rgb[3 * i] + green * rgb[3 * i + 1] + blue * rgb[3 * i + 2];
      expect(Math.abs(luma - (65535 * (source.planes[0].data[i] - 4096)) / (219 * 256))).toBeLessThan(40);
    }
  });

  it('find room where lightness may give way, and lightness stays where there is room', () => {
    const source = grey();
    const tones = tonesOf(source);
    const output: StreamInfo = { ...source.info, planes: 3, depth: 16 };
    const bound = layColours(source, source.region, output, tones, strong(tones), { weight: 1 });
    const made = madeRoom(layColours(source, source.region, output, tones, strong(tones), { weight: 1, unbound: true }));
    const chroma = ({ planes: [, cb, cr] }: Picture, i: number): number => Math.hypot(cb.data[i] - 32768, cr.data[i] - 32768);
    let moved = 0,
      stronger = 0;
    made.planes[0].data.forEach((v, i) => {
      if (v !== source.planes[0].data[i]) moved++;
      if (chroma(made, i) > chroma(bound, i) + 257) stronger++;
      expect(chroma(made, i)).toBeGreaterThanOrEqual(chroma(bound, i) - 16);
    });
    expect(moved).toBeGreaterThan(100);
    expect(stronger).toBeGreaterThan(moved / 2);
    const pale = madeRoom(layColours(source, source.region, output, tones, strong(tones), { weight: 0.05, unbound: true }));
    expect(pale.planes[0].data).toEqual(source.planes[0].data);
  });

  it('give a part as they give the whole, chroma of any grain', () => {
    for (const [chromaShiftX, chromaShiftY] of CHROMA_SHIFTS) {
      const source = picture(still({ chromaShiftX, chromaShiftY }));
      const tones = tonesOf(source);
      const whole = layColours(source, source.region, source.info, tones, strong(tones), { weight: 0.7 });
      fc.assert(
        fc.property(fc.integer({ min: 0, max: 24 }), fc.integer({ min: 0, max: 16 }), (x, y) => {
          const part = { x: 4 * x, y: 4 * y, width: 40, height: 32 };
          const made = layColours(cutPicture(source, part), part, source.info, tones, strong(tones), { weight: 0.7 });
          expect(made.planes).toEqual(cutPicture(whole, part).planes);
        }),
        { numRuns: 5 },
      );
    }
  });

  it('keep what was tinted by hand', () => {
    const source = asColour(grey(), still());
    source.planes[2].data.fill(50000, 60 * 160, 62 * 160 + 40);
    const tones: Tones = { ...tonesOf(grey()), own: 'tinted', kept: new Uint8Array(160 * 120).fill(255) };
    const made = layColours(source, source.region, source.info, tones, strong(tones), { weight: 1 });
    expect(made.planes).toEqual(source.planes);
  });
});

describe('toning', () => {
  it('gives a grey wedge the colour of its metal, paper white and black none, and takes any tone off', () => {
    const info = still({
      width: 256,
      height: 2,
      planes: 1,
      colour: { matrix: 'bt601', range: 'full', transfer: 'srgb', primaries: 'bt709' },
    });
    const wedge: Picture = {
      info,
      region: wholeRegion(info),
      planes: [{ width: 256, height: 2, data: Uint16Array.from({ length: 512 }, (_, i) => 257 * (i % 256)) }],
    };
    const toned = toneLaid(asColour(wedge, { ...info, planes: 3 }), 'sepia', 1);
    const [light, cb, cr] = toned.planes;
    expect(light.data).toEqual(wedge.planes[0].data);
    expect([cb.data[0], cr.data[0], cb.data[255], cr.data[255]]).toEqual([NEUTRAL_CHROMA, NEUTRAL_CHROMA, NEUTRAL_CHROMA, NEUTRAL_CHROMA]);
    expect(cr.data[120]).toBeGreaterThan(NEUTRAL_CHROMA + 1500);
    expect(cb.data[120]).toBeLessThan(NEUTRAL_CHROMA - 1500);
    const [, b, r] = toneLaid(toned, undefined, 1).planes;
    expect([...b.data, ...r.data].every((v) => v === NEUTRAL_CHROMA)).toBe(true);
    expect(toneLaid(toned, undefined, 0).planes).toEqual(toned.planes);
  });
});
