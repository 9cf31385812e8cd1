import { reduceRational, type Rational } from '../core/picture/picture';
import { fileArgument, lastComplaint, runTool, SAFE_PROTOCOLS } from './tools';

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

/** Rates that material has been made at, to which a measured one is drawn when it lies within a thousandth. */
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

/**
 * Reads all packets of the first video stream, without decoding.
 * @param rates rates the container names, best first.
 */
export async function readFrameIndex(path: string, timeBase: string, rates: Rational[]): Promise<FrameIndex> {
  const result = await runTool('ffprobe', [
    '-v',
    'error',
    ...SAFE_PROTOCOLS,
    '-select_streams',
    'V:0',
    '-show_entries',
    'packet=pts,dts,flags',
    '-of',
    'csv=p=0',
    fileArgument(path),
  ]);
  const [num, den] = timeBase.split('/').map(Number);
  const unit = num / den;
  const stamps: number[] = [];
  const keys: number[] = [];
  let unknown = 0;
  for (const line of result.stdout.toString().split('\n')) {
    if (!line) continue;
    const [pts, dts, flags = ''] = line.split(',');
    if (flags.includes('D')) continue;
    const stamp = Number(pts !== 'N/A' ? pts : dts);
    if (Number.isNaN(stamp)) {
      unknown++;
      continue;
    }
    stamps.push(stamp * unit);
    if (flags.startsWith('K')) keys.push(stamp * unit);
  }
  const damage = result.stderr.trim() ? [`its packets are damaged: ${lastComplaint(result.stderr)}`] : [];
  // Streams without time stamps: the frames simply follow each other.
  if (unknown > stamps.length) return even(unknown + stamps.length, rates[0] ?? { num: 25, den: 1 }, damage);
  const times = Float64Array.from(stamps).sort();
  return { ...onEvenLine(times, rates), times, keys: Float64Array.from(keys).sort(), damage };
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
  const measured = (count - 1) / (times[count - 1] - firstTime);
  const near = (rate: Rational, tolerance: number): boolean => Math.abs(rate.num / rate.den / measured - 1) < tolerance;
  // The frames decide: a container's rate counts only when they follow it.
  for (const rate of [...rates, ...USUAL]) {
    const follows = times.every((t, n) => Math.abs((t - firstTime) * (rate.num / rate.den) - n) < 0.4);
    if (follows) return { frames: count, rate, firstTime };
  }
  const rate = [...USUAL, ...rates].find((r) => near(r, 0.001)) ?? reduceRational({ num: Math.round(measured * 1000), den: 1000 });
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
