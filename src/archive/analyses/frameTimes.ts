import { cutIndex, type FrameIndex, readFrameIndex } from '../../media';
import type { Analysis, Measured } from './analysis';

interface StoredIndex extends Omit<FrameIndex, 'times' | 'keys' | 'map'> {
  times: number[];
  keys: number[];
  map?: number[];
}

/** When every frame is shown. */
export const frameTimes: Analysis<FrameIndex> = {
  id: 'frame-times',
  version: 1,
  name: 'frame times',
  needs: [],
  measure: (of) => readFrameTimes(of),
  encode: (index): StoredIndex => ({ ...index, times: [...index.times], keys: [...index.keys], map: index.map && [...index.map] }),
  decode(kept) {
    const { times, keys, map, ...index } = kept as StoredIndex;
    return { ...index, times: Float64Array.from(times), keys: Float64Array.from(keys), map: map && Int32Array.from(map) };
  },
};

/** Reads an item's frame times from its file, of the part that it is. */
export async function readFrameTimes({ path, facts }: Pick<Measured, 'path' | 'facts'>): Promise<FrameIndex> {
  const { timeBase = '1/1000', stream: info, part } = facts;
  const { stream, frames } = part ?? {};
  const index = await readFrameIndex(path, timeBase, [info.rate], stream);
  return frames ? cutIndex(index, frames.first, frames.last) : index;
}
