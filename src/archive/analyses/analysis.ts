import type { FrameSource, Node, StreamInfo } from '../../core';
import type { MediaFacts } from '../../media';

/** What is measured: a node's pictures, the source they come from, and its file. */
export interface Measured {
  node: Node;
  source: FrameSource;
  path: string;
  facts: MediaFacts;
  /** What another analysis of the same node says, by its id; undefined where it is not there. */
  known(id: string): unknown;
}

/** One of the pieces that a long analysis is divided into. */
export interface Piece {
  /** From 0. */
  index: number;
  count: number;
}

/** How the measuring goes on: from where, and whom it tells. */
export interface Measuring<T> {
  /** What is there already of a measuring that was cut short. */
  kept?: T;
  /** The piece that is measured; all of it when left out. */
  piece?: Piece;
  /** Is told what is known so far, and which share of the piece or of all it is, 0 to 1; it is kept from time to time. */
  progress(value: T, share: number): Promise<void>;
  /** Whether it is no longer wanted. */
  cancelled(): boolean;
}

/** Something that is measured once and kept. */
export interface Analysis<T> {
  id: string;
  /** Rises when what it measures changes, so that nothing kept of the former passes for the present. */
  version: number;
  /** As it is called on screen. */
  name: string;
  /** Ids of analyses that must be there first. */
  needs: string[];
  /** How a long one is divided, so that several processes measure it at once; one that is not leaves it out. */
  pieces?: {
    /** How many there are for a stream, whatever machine asks. */
    count(stream: StreamInfo): number;
    /** Puts pieces together in their order; undefined are those of which nothing is measured yet. */
    join(values: (T | undefined)[]): T;
  };
  /**
   * Measures, from where it was left.
   * @throws Cancelled when it is no longer wanted, or what reading the pictures throws.
   */
  measure(of: Measured, how: Measuring<T>): Promise<T>;
  /** A value as JSON can hold it. */
  encode(value: T): unknown;
  /** The value that `encode` gave this for. */
  decode(kept: unknown): T;
}
