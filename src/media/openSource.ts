import type { FrameSource, StreamInfo } from '../core';
import { probe, type Probed } from './probe';
import { StillSource } from './stillSource';
import { VideoSource } from './videoSource';

/** A source of frames that holds a decoder until it is closed. */
export type OpenSource = FrameSource & { close?(): void };

/**
 * Opens a file for its frames.
 * @param key names it in caches; its checksum.
 * @param info the stream as it was measured to be, where that differs from its tags.
 * @param jumps whether frames are asked for here and there rather than in order.
 */
export async function openSource(path: string, key: string, known?: Probed, info?: StreamInfo, jumps = false): Promise<OpenSource> {
  const { facts, index } = known ?? (await probe(path));
  if (facts.kind === 'still' || !index) return new StillSource(path, facts, key, info ?? facts.stream);
  return new VideoSource(path, facts, index, key, info ?? facts.stream, jumps);
}
