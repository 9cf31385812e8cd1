import { LRUCache } from 'lru-cache';
import type { FrameSource, Picture, StreamInfo } from '../core';
import { type Beginning, type DecodedStream, Decoder } from './decoder';
import type { MediaFacts } from './facts';
import type { FrameIndex } from './frameIndex';
import { layoutFor } from './pixelFormats';
import { Interrupted, MediaError } from './tools';

/** Codecs that know no fields. */
const WHOLE_FRAMES = new Set(
  'mpeg1video h261 h263 flv1 vp3 theora vp6 vp6f vp8 vp9 av1 cinepak msvideo1 indeo3 indeo5 svq1 svq3 rv10 rv20 rv30 rv40 wmv1 wmv2 msmpeg4v1 msmpeg4v2 msmpeg4v3 gif apng webp'.split(
    ' ',
  ),
);

/** Coded frames kept after they were handed out, for windows over neighbouring frames. */
const MAX_FRAMES_KEPT = 12;
/** How far ahead a running decoder is followed rather than started anew. */
const MAX_FOLLOWED = 48;
/** Seconds further back a decoder is started when it came up with too late a frame; at last from the file's start. */
const STEPS_BACK_SECONDS = [0, 2, 10, Infinity];
/** Milliseconds a decoder waits for a jump before it is let go. */
const SPARE_MS = 60_000;
/** Times a decoder that was stopped from outside, or crashed, is started anew for one frame. */
const MAX_RESTARTS = 2;

/**
 * Frames of a video by number, decoded by a running ffmpeg as long as they are asked for in order. Every decoded frame
 * is placed by its time stamp, so seeking never slips a frame.
 */
export class VideoSource implements FrameSource {
  readonly codedStep?: number;
  readonly interlaces: boolean;
  private readonly decoded: DecodedStream;
  private decoder?: Decoder;
  /** Waits for the next jump, and is let go after a while. */
  private spare?: { decoder: Decoder; timer: NodeJS.Timeout };
  private readonly kept = new LRUCache<number, Picture>({ max: MAX_FRAMES_KEPT });
  private turn: Promise<unknown> = Promise.resolve();

  /** @param jumps whether frames are asked for here and there, so that a decoder is kept ready. */
  constructor(
    path: string,
    private readonly facts: MediaFacts,
    private readonly index: FrameIndex,
    readonly key: string,
    readonly info: StreamInfo = facts.stream,
    private readonly jumps = false,
  ) {
    this.decoded = { path, stream: facts.part?.stream ?? 0, layout: layoutFor(facts.pixelFormat), info };
    this.codedStep = facts.codedStep;
    this.interlaces = !WHOLE_FRAMES.has(facts.codec);
  }

  frame(n: number): Promise<Picture> {
    const result = this.turn.then(() => this.coded(this.index.map ? this.index.map[n] : n));
    this.turn = result.catch(() => undefined);
    return result;
  }

  close(): void {
    this.decoder?.stop();
    this.decoder = undefined;
    this.dropSpare();
    this.kept.clear();
  }

  private async coded(k: number): Promise<Picture> {
    const known = this.kept.get(k);
    if (known) return known;
    let why = 'the file ends before it';
    let restarts = 0;
    for (let attempt = 0; attempt < STEPS_BACK_SECONDS.length;) {
      if (!this.decoder || k < this.decoder.next || k > this.decoder.next + MAX_FOLLOWED) this.start(k, STEPS_BACK_SECONDS[attempt]);
      const decoder = this.decoder as Decoder;
      const found = await this.readUntil(k);
      if (found) {
        this.prepareSpare();
        return found;
      }
      // A stream that broke off says nothing of what the file holds.
      const broken = decoder.brokenOff();
      why = broken ?? decoder.complaint ?? why;
      if (!broken) attempt++;
      else if (restarts++ >= MAX_RESTARTS) {
        if (decoder.stopped) throw new Interrupted(`frame ${k} could not be decoded: ${broken}`);
        break;
      }
    }
    throw new MediaError(`Frame ${k} cannot be decoded: ${why}.`);
  }

  /** Starts a decoder at the key frame before frame k, or `back` seconds before that. */
  private start(k: number, back: number): void {
    this.decoder?.stop();
    const { times, keys } = this.index;
    let key = 0;
    for (let i = 0; i < keys.length && keys[i] <= times[k] + 1e-6; i++) key = keys[i];
    const fileStart = this.index.firstTime - this.facts.videoStart;
    const at = key - back;
    const beginning: Beginning = at - fileStart > 0.01 ? { at, fileStart } : { fileStart };
    const spare = back === 0 ? this.spare?.decoder : undefined;
    if (spare?.lives) {
      clearTimeout(this.spare?.timer);
      this.spare = undefined;
      spare.begin(beginning);
      this.decoder = spare;
    } else this.decoder = new Decoder(this.decoded, beginning);
  }

  /** Keeps a decoder ready for the next jump. */
  private prepareSpare(): void {
    if (!this.jumps || this.spare?.decoder.lives) return;
    this.dropSpare();
    const timer = setTimeout(() => this.dropSpare(), SPARE_MS);
    timer.unref();
    this.spare = { decoder: new Decoder(this.decoded, 'waits'), timer };
  }

  private dropSpare(): void {
    clearTimeout(this.spare?.timer);
    this.spare?.decoder.stop();
    this.spare = undefined;
  }

  /** Reads on to frame k; undefined when the decoder began after it. A frame that was lost is stood in for by the one before. */
  private async readUntil(k: number): Promise<Picture | undefined> {
    const decoder = this.decoder as Decoder;
    let last: Picture | undefined;
    for (;;) {
      const frame = await decoder.read();
      if (!frame) {
        this.decoder = undefined;
        await decoder.closed;
        return decoder.brokenOff() ? undefined : last;
      }
      const at = frame.time === undefined ? decoder.next : this.nearest(frame.time);
      const first = last === undefined && !decoder.placed;
      decoder.placed = true;
      decoder.next = at + 1;
      if (at > k && first && k > 0 && decoder.beganWithin) {
        decoder.stop();
        this.decoder = undefined;
        return undefined;
      }
      if (at >= 0) this.kept.set(at, frame.picture);
      if (at >= k) {
        const stand = at === k ? frame.picture : (last ?? frame.picture);
        this.kept.set(k, stand);
        return stand;
      }
      last = frame.picture;
    }
  }

  /** The frame whose time is nearest; -1 for what comes before the part begins. */
  private nearest(time: number): number {
    const { times, rate } = this.index;
    if (time < times[0] - rate.den / rate.num / 2) return -1;
    let low = 0,
      high = times.length - 1;
    while (low < high) {
      const middle = (low + high) >> 1;
      if (times[middle] < time - 1e-6) low = middle + 1;
      else high = middle;
    }
    return low > 0 && time - times[low - 1] < times[low] - time ? low - 1 : low;
  }
}
