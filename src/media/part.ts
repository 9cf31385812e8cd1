import type { FrameIndex } from './frameIndex';
import type { Probed } from './probe';

/** Which part of a file an item is; all of it where nothing is said. */
export interface Part {
  /** Page of a still, from 0. */
  page?: number;
  /** Number among the picture streams of a container, from 0. */
  stream?: number;
  /** Frames of that stream, both ends included. */
  frames?: { first: number; last: number };
  /** One of several prints on a scan: its number from 0, and its corners from the upper left one clockwise, in fractions of the scan. */
  print?: { number: number; corners: string };
}

/** A part as it is added to a name; empty for a whole file. */
export function partName({ page, stream, frames, print }: Part): string {
  const words = [
    page !== undefined && `page ${page + 1}`,
    stream !== undefined && `picture ${stream + 1}`,
    frames && `frames ${frames.first} to ${frames.last}`,
    print && `print ${print.number + 1}`,
  ];
  return words.filter(Boolean).join(', ');
}

/** Names a part among all of one file. */
export const partKey = (part: Part | undefined): string => (part && partName(part)) ?? '';

/** A stretch of a moving image as something of its own: its frames count from 0, and sound and cues are cut to it. */
export function framesOf({ facts, index }: Required<Probed>, first: number, last: number): Required<Probed> {
  const cut = cutIndex(index, first, last);
  const before = facts.part?.frames?.first ?? 0;
  return {
    index: cut,
    facts: {
      ...facts,
      part: { ...facts.part, frames: { first: before + first, last: before + last } },
      stream: { ...facts.stream, frames: cut.frames },
      duration: (cut.frames * cut.rate.den) / cut.rate.num,
      videoStart: facts.videoStart + cut.firstTime - index.firstTime,
    },
  };
}

/** The index of a stretch of frames, both ends included. */
export function cutIndex(index: FrameIndex, first: number, last: number): FrameIndex {
  const { times, keys, map, rate } = index;
  const coded = (n: number): number => (map ? map[n] : n);
  const [from, to] = [coded(first), coded(last)];
  return {
    ...index,
    frames: last - first + 1,
    // On an even line the first frame's moment is the line's, not that of the nearest coded frame.
    firstTime: map ? index.firstTime + (first * rate.den) / rate.num : times[from],
    times: times.slice(from, to + 1),
    // A decoder may have to begin before the part does.
    keys: keys.filter((key) => key <= times[to] + 1e-6),
    ...(map && { map: map.slice(first, last + 1).map((k) => k - from) }),
  };
}
