import { CodedError } from '../errors';
import type { Geometry } from '../../shared/maps/place';
import type { TimeMap } from '../../shared/maps/time';
import type { PaintedStore } from '../../shared/masks/painted';
import type { LaidPicture } from '../picture/laid';
import type { Picture, Region, StreamInfo } from '../picture/picture';
import type { FoundFaults } from '../treatments/treatment';
import type { PictureCache } from './cache';
import type { FindAnalysis, LaidNode } from './layout';

/** Where source frames come from. */
export interface FrameSource {
  info: StreamInfo;
  /** Names the source among all others, such as its checksum. */
  key: string;
  /** Quantiser step it was coded with, where its codec tells. */
  codedStep?: number;
  /** Whether its codec can hold interlaced frames as such; true where it is not known. */
  interlaces?: boolean;
  /** The frame, at least the region of it. Frames are asked for mostly in order. */
  frame(n: number, region: Region): Promise<Picture>;
}

/** Raised when the caller no longer wants the result. */
export class Cancelled extends CodedError {
  constructor() {
    super('cancelled', 'the result is no longer wanted');
  }
}

/** What a plan needs beside its source. */
export interface Resources {
  /** Results kept; may be shared between graphs, since each is kept under what it depends on. */
  cache: PictureCache;
  /** Documents of painted masks; without it no plan may have any. */
  painted?: PaintedStore;
  /** What was measured of a node; without it, or where it is not there yet, steps that read it rest. */
  analysis?: FindAnalysis;
  /** Hand work, by the SHA-256 of its document. */
  marks?: (hash: string) => Promise<readonly unknown[]>;
  /** Pictures laid into steps, by the SHA-256 they are kept under. */
  picture?: (hash: string) => Promise<LaidPicture>;
  /** Asked between steps; true stops the work. */
  cancelled?: () => boolean;
}

/** Time spent in a node's own work, milliseconds, the frames it worked on, and the pixels it worked, borders included. */
export interface Spent {
  milliseconds: number;
  frames: number;
  pixels: number;
}

/** A picture that can be asked for: the source's, or what a step or a fork makes of it. */
export interface Node {
  /** The step's or the fork's id; `SOURCE_NODE` for the source. */
  readonly id: string;
  readonly inputs: readonly Node[];
  readonly stream: StreamInfo;
  /** Names all that its pictures depend on, and nothing else. */
  readonly key: string;
  /** When its frames were seen in the source. */
  readonly time: TimeMap;
  /** Where its pixels lie in the source. */
  readonly geometry: Geometry;
  readonly spent: Readonly<Spent>;
  /**
   * Part of frame `n`.
   * @throws Cancelled, or what the source or a treatment throws.
   */
  frame(n: number, region: Region): Promise<Picture>;
  /** What its treatment takes for faults in a part of frame `n`, of treatments that tell. @throws as `frame` does. */
  found?(n: number, region: Region): Promise<FoundFaults | undefined>;
}

/** How a node makes its pictures. */
export interface Pass {
  make(n: number, region: Region): Promise<Picture>;
  /** What its treatment takes for faults in a part of frame `n`. */
  found?(n: number, region: Region): Promise<FoundFaults | undefined>;
}

/** What passes go by. */
export interface PassContext {
  node: LaidNode;
  inputs: readonly Node[];
  spent: Spent;
  painted: PaintedStore;
  marks: NonNullable<Resources['marks']>;
  picture: NonNullable<Resources['picture']>;
  /** Size of the source, in which masks lie. */
  source: { width: number; height: number };
  /** @throws Cancelled when the result is no longer wanted. */
  goOn(): void;
  /** What the parts of one frame have in common: made for the first of them, kept until another frame's turn. */
  share<T>(key: string, make: () => T): T;
}

/**
 * Pictures round a frame, each frame asked for once: at a clip's ends they repeat, and treatments tell by the object that such a frame has
 * nothing new to say.
 *
 * @param first and `last` may lie beyond the ends.
 */
export async function windowOf(before: Node, first: number, last: number, part: Region, goOn: () => void): Promise<Picture[]> {
  const asked = new Map<number, Picture>();
  const window: Picture[] = [];
  for (let at = first; at <= last; at++) {
    const frame = Math.min(before.stream.frames - 1, Math.max(0, at));
    const picture = asked.get(frame) ?? (await before.frame(frame, part));
    asked.set(frame, picture);
    window.push(picture);
    goOn();
  }
  return window;
}

/** Notes what a pass worked. @param pixels the part that was made, and the border it took. */
export function account(spent: Spent, start: number, { width, height }: Region): void {
  spent.milliseconds += performance.now() - start;
  spent.frames++;
  spent.pixels += width * height;
}
