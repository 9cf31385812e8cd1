import type { FieldOrder, Plane } from '../picture/picture';

/** How far lines of alternate fields stand apart: the mean zigzag of each line against the two of the other field. */
export function zigzag(even: Plane, odd: Plane): number {
  const { width, height } = even;
  let sum = 0;
  for (let y = 2; y + 2 < height; y += 2) {
    for (let x = 0; x < width; x += 2) {
      const i = y * width + x;
      const up = odd.data[i - width],
        here = even.data[i],
        down = odd.data[i + width];
      // Only where both neighbours lie on one side, and beyond what the field itself varies by.
      const a = here - up,
        b = here - down;
      if (a * b > 0) {
        const own = Math.abs(even.data[i - 2 * width] - here) + Math.abs(even.data[i + 2 * width] - here);
        const comb = Math.min(Math.abs(a), Math.abs(b)) - own / 2;
        if (comb > 0) sum += comb;
      }
    }
  }
  return sum / ((width * height) / 4);
}

/** Mean difference of one field of two frames. */
export function fieldChange(a: Plane, b: Plane, parity: 0 | 1): number {
  let sum = 0,
    count = 0;
  for (let y = parity; y < a.height; y += 4) {
    for (let i = y * a.width, end = i + a.width; i < end; i += 2) {
      sum += Math.abs(a.data[i] - b.data[i]);
      count++;
    }
  }
  return sum / count;
}

export interface FieldVerdict {
  scan: 'progressive' | 'interlaced' | 'telecined' | 'unknown';
  order: FieldOrder;
  confidence: number;
  /** Frames that comb, of those that move enough to tell. */
  combed: number;
  judged: number;
}

/** Comb energy, 16-bit steps, a frame must have before it counts: 0.15 of 255. */
const ENOUGH = 40;

/** Least part of the way that true fields have behind them: noise and coding, which belong to whole frames, leave some before it too. */
const AS_FIELDS = 0.25;
/** Share of a frame's own zigzag by which a pairing must differ to say anything: below it all is texture and noise. */
const ABOVE_TEXTURE = 0.08;
/** Lines of the smallest interlaced format, less what may be cropped; whole numbers of fields are smaller. */
const LEAST_HEIGHT = 400;
/** Share of the moving frames that must comb before fields are sure, and the most that is said otherwise. */
const NEARLY_ALL = 0.85,
  UNSURE = 0.55;

/**
 * Whether runs of consecutive frames are interlaced, and which field comes first.
 *
 * The two fields of a frame, and each with the other field of the next frame, are laid over one another. Fields one step
 * apart in time comb a little where things move, fields three steps apart comb much: which pairing is worse names the
 * order. Progressive fields comb in neither frame but in both pairings alike. Two combed frames in every five, or
 * one where drawings are held for two frames, are telecine (3:2 pulldown, SMPTE RP 197).
 *
 * Texture zigzags too, in both pairings alike. Of true fields one pairing is as near as the frame itself and the other further; of
 * whole frames both are as far: how much of the way from the frame to the further pairing lies behind the nearer one tells them
 * apart, whatever texture adds to all three.
 *
 * @param runs luma planes of consecutive frames; several runs from different places.
 * @param interlaces whether the codec can hold interlaced frames; what cannot be is never called sure.
 * @param tagged whether the file says that they are: then their height says nothing against it.
 */
export function judgeFields(runs: Plane[][], interlaces = true, tagged = false): FieldVerdict {
  let behind = 0,
    ahead = 0;
  let topVotes = 0,
    bottomVotes = 0,
    combed = 0,
    judged = 0;
  const cycles: boolean[][] = [];
  for (const run of runs) {
    const flags: boolean[] = [];
    for (let n = 0; n + 1 < run.length; n++) {
      const own = zigzag(run[n], run[n]);
      const topNext = zigzag(run[n + 1], run[n]); // the next frame's even lines with this one's odd lines
      const bottomNext = zigzag(run[n], run[n + 1]);
      const moved = Math.max(fieldChange(run[n], run[n + 1], 0), fieldChange(run[n], run[n + 1], 1));
      if (moved < ENOUGH || Math.max(own, topNext, bottomNext) < ENOUGH / 4) {
        flags.push(false);
        continue;
      }
      const [nearer, further] = [Math.min(topNext, bottomNext), Math.max(topNext, bottomNext)];
      if (further - Math.min(own, nearer) < ABOVE_TEXTURE * own) {
        flags.push(false);
        continue;
      }
      judged++;
      behind += nearer - own;
      ahead += further - nearer;
      const combs = own > 0.35 * Math.min(topNext, bottomNext) && own > ENOUGH / 4;
      flags.push(combs);
      if (!combs) continue;
      combed++;
      if (bottomNext > 1.15 * topNext) topVotes++;
      else if (topNext > 1.15 * bottomNext) bottomVotes++;
    }
    cycles.push(flags);
  }
  if (judged < 3) return { scan: 'unknown', order: 'progressive', confidence: 0, combed, judged };
  const share = combed / judged;
  const votes = topVotes + bottomVotes;
  const order: FieldOrder = bottomVotes > topVotes ? 'bottom-first' : 'top-first';
  const agreement = votes ? Math.max(topVotes, bottomVotes) / votes : 0.5;
  if (share < 0.15) return { scan: 'progressive', order: 'progressive', confidence: 1 - share * 3, combed, judged };
  const capped = (confidence: number): number =>
    interlaces && (tagged || runs[0][0].height >= LEAST_HEIGHT) && share >= NEARLY_ALL ? confidence : Math.min(UNSURE, confidence);
  if (share < 0.75 && cycles.some(isPulldown)) return { scan: 'telecined', order, confidence: agreement, combed, judged };
  const asFields = ahead / (ahead + Math.max(0, behind) + 1e-9);
  if (asFields < AS_FIELDS) return { scan: 'progressive', order: 'progressive', confidence: 1 - asFields, combed, judged };
  return {
    scan: 'interlaced',
    order,
    confidence: capped(agreement * Math.min(1, 0.5 + share) * Math.min(1, 0.5 + asFields)),
    combed,
    judged,
  };
}

/**
 * The same one or two neighbours of every five comb, over at least eight frames: two for film, one where each drawing is
 * held for two of the film's frames.
 */
function isPulldown(flags: boolean[]): boolean {
  if (flags.length < 8) return false;
  return [0, 1, 2, 3, 4].some((phase) => [1, 2].some((combs) => flags.every((flag, n) => flag === (n + phase) % 5 < combs)));
}
