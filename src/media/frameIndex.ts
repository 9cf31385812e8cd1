import { type Rational, reduceRational } from '../shared/maps/rational';
import { UNTRUSTED_INPUT } from './inputs';
import { fileArgument, lastComplaint, runTool } from './tools';

/** When every frame of a video is shown, from its packets. */
export interface FrameIndex {
  /** Frames on the even time line. */
  frames: number;
  rate: Rational;
  /** Seconds of the first frame, in the file's own time. */
  firstTime: number;
  /** Seconds of each coded frame, in order. */
  times: Float64Array;
  /** Coded frame shown at each frame of the even time line; left out where they are the same. */
  map?: Int32Array;
  /** Seconds of the frames a decoder can start at. */
  keys: Float64Array;
  /** What the demuxer complained of. */
  damage: string[];
}

/** Share a rate that a container reckons from whole units of time may be off the usual one it means: Matroska's 60000/1001 reads 19001/317. */
const RECKONED = 1e-6;

/** The usual rate that a container's rate means. */
export const meantRate = (rate: Rational): Rational =>
  USUAL.find((usual) => Math.abs((rate.num * usual.den) / (rate.den * usual.num) - 1) < RECKONED) ?? rate;

/** Rates that material has been made at. */
const USUAL: Rational[] = [
  { num: 24000, den: 1001 },
  { num: 24, den: 1 },
  { num: 25, den: 1 },
  { num: 30000, den: 1001 },
  { num: 30, den: 1 },
  { num: 50, den: 1 },
  { num: 60000, den: 1001 },
  { num: 60, den: 1 },
  { num: 15, den: 1 },
  { num: 16, den: 1 },
  { num: 18, den: 1 },
  { num: 12, den: 1 },
];

/** Seconds a time stamp may be off by rounding: containers that count milliseconds. */
const STAMP_ROUNDING = 0.0011;
/** Share a typical step may differ from a usual rate's. */
const NEAR = 0.02;

/**
 * Reads all packets of a picture stream, without decoding.
 * @param rates rates the container names, best first.
 * @param stream number among the picture streams.
 */
export async function readFrameIndex(path: string, timeBase: string, rates: Rational[], stream = 0): Promise<FrameIndex> {
  const result = await runTool('ffprobe', [
    '-v',
    'error',
    ...UNTRUSTED_INPUT,
    '-select_streams',
    `V:${stream}`,
    '-show_entries',
    'packet=pts,dts,flags',
    '-of',
    'csv=p=0',
    fileArgument(path),
  ]);
  const [num, den] = timeBase.split('/').map(Number);
  const unit = num / den;
  const packets = result.stdout
    .toString()
    .split('\n')
    .filter(Boolean)
    .map((line) => line.split(','))
    .filter(([, , flags = '']) => !flags.includes('D'))
    .map(([pts, dts, flags = '']) => ({ pts: stamp(pts), dts: stamp(dts), key: flags.startsWith('K') }));
  const shown = presentationTimes(packets);
  const stamps = shown.filter((t) => t !== undefined).map((t) => t * unit);
  const unknown = shown.length - stamps.length;
  const keys = packets.flatMap(({ key }, n) => (key && shown[n] !== undefined ? [shown[n] * unit] : []));
  const damage = result.stderr.trim() ? [`its packets are damaged: ${lastComplaint(result.stderr)}`] : [];
  // Streams without time stamps: the frames simply follow each other.
  if (unknown > stamps.length) return even(unknown + stamps.length, rates[0] ?? { num: 25, den: 1 }, damage);
  const times = Float64Array.from(stamps).sort();
  const { closed, leaps } = withoutLeaps(times);
  if (leaps > 0)
    damage.push(`its time stamps leap ${leaps === 1 ? 'once' : `${leaps} times`}; the frames on both sides follow one another`);
  return { ...onEvenLine(closed, rates), times, keys: Float64Array.from(keys).sort(), damage };
}

/** Longest time a frame may stand, in seconds: pictures that change slowly, not stamps that are damaged. */
const LONGEST = 30;

/**
 * Times without leaps that no picture stands for: across one, the frames follow at their usual step. The longest stretch keeps its times, for
 * the others are the damaged ones.
 */
export function withoutLeaps(times: Float64Array): { closed: Float64Array; leaps: number } {
  const ends = [...times.keys()].filter((n) => n > 0 && times[n] - times[n - 1] > LONGEST);
  if (ends.length === 0) return { closed: times, leaps: 0 };
  const steps = Float64Array.from({ length: times.length - 1 }, (_, n) => times[n + 1] - times[n]).sort();
  const step = Math.min(LONGEST, steps[steps.length >> 1]);
  const starts = [0, ...ends];
  const length = (k: number): number => (starts[k + 1] ?? times.length) - starts[k];
  const anchor = starts.reduce((longest, _, k) => (length(k) > length(longest) ? k : longest), 0);
  const shift = new Float64Array(starts.length);
  for (let k = anchor + 1; k < starts.length; k++) shift[k] = shift[k - 1] + times[starts[k]] - times[starts[k] - 1] - step;
  for (let k = anchor - 1; k >= 0; k--) shift[k] = shift[k + 1] - (times[starts[k + 1]] - times[starts[k + 1] - 1] - step);
  let k = 0;
  return {
    closed: times.map((t, n) => {
      if (n >= (starts[k + 1] ?? Infinity)) k++;
      return t - shift[k];
    }),
    leaps: ends.length,
  };
}

const stamp = (text: string | undefined): number | undefined =>
  text === undefined || text === 'N/A' || text === '' ? undefined : Number(text);

/**
 * When each packet's frame is shown, in time stamps. Demuxers that read ahead lack the last ones: these follow from when the
 * frame is decoded, by the delay most others have, at a time no other frame has.
 */
export function presentationTimes(packets: { pts?: number; dts?: number }[]): (number | undefined)[] {
  const delays = new Map<number, number>();
  for (const { pts, dts } of packets) if (pts !== undefined && dts !== undefined) delays.set(pts - dts, (delays.get(pts - dts) ?? 0) + 1);
  const usual = [...delays.entries()].sort((a, b) => b[1] - a[1]).map(([delay]) => delay);
  const taken = new Set(packets.map((p) => p.pts));
  return packets.map(({ pts, dts }) => {
    if (pts !== undefined || dts === undefined) return pts;
    const free = usual.map((delay) => dts + delay).find((t) => !taken.has(t)) ?? dts;
    taken.add(free);
    return free;
  });
}

function even(frames: number, rate: Rational, damage: string[]): FrameIndex {
  const times = Float64Array.from({ length: frames }, (_, n) => (n * rate.den) / rate.num);
  return { frames, rate, firstTime: 0, times, keys: times.slice(0, 1), damage };
}

/** The rate the frames follow, and where they do not, which frame is nearest at each of its steps. */
export function onEvenLine(times: Float64Array, rates: Rational[]): Pick<FrameIndex, 'frames' | 'rate' | 'firstTime' | 'map'> {
  const count = times.length;
  const firstTime = count ? times[0] : 0;
  if (count < 2) return { frames: count, rate: rates[0] ?? { num: 25, den: 1 }, firstTime };
  // The frames decide: a container's rate counts only when they follow it, closely if any rate is followed closely.
  for (const tolerance of [STAMP_ROUNDING, undefined]) {
    for (const rate of [...rates, ...USUAL]) {
      const step = rate.den / rate.num;
      if (times.every((t, n) => Math.abs(t - firstTime - n * step) < (tolerance ?? 0.4 * step))) return { frames: count, rate, firstTime };
    }
  }
  // Uneven: the step that most frames keep, drawn to a usual rate.
  const steps = Float64Array.from({ length: count - 1 }, (_, n) => times[n + 1] - times[n]).sort();
  const typical = 1 / Math.max(1e-4, steps[steps.length >> 1]);
  const away = (r: Rational): number => Math.abs(r.num / r.den / typical - 1);
  const nearest = [...rates, ...USUAL].sort((a, b) => away(a) - away(b))[0];
  const rate = away(nearest) < NEAR ? nearest : reduceRational({ num: Math.round(typical * 1000), den: 1000 });
  const step = rate.den / rate.num;
  const frames = Math.max(1, Math.round((times[count - 1] - firstTime) / step) + 1);
  const map = new Int32Array(frames);
  for (let n = 0, k = 0; n < frames; n++) {
    const t = firstTime + n * step;
    while (k + 1 < count && Math.abs(times[k + 1] - t) <= Math.abs(times[k] - t)) k++;
    map[n] = k;
  }
  return { frames, rate, firstTime, map };
}
