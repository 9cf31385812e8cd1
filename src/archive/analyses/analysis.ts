import type { FrameSource, Node } from '../../core';
import type { MediaFacts } from '../../media';

/** What is measured: a node's pictures, the source they come from, and its file. */
export interface Measured {
  node: Node;
  source: FrameSource;
  path: string;
  facts: MediaFacts;
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
  /**
   * Measures, from where it was left.
   * @param kept what is there already of a measuring that was cut short.
   * @param progress is told what is known so far, and which share of all it is, 0 to 1; it is kept from time to time.
   * @throws Cancelled when it is no longer wanted, or what reading the pictures throws.
   */
  measure(of: Measured, kept: T | undefined, progress: (value: T, share: number) => Promise<void>, cancelled: () => boolean): Promise<T>;
  /** As it is kept, and back. */
  encode(value: T): unknown;
  decode(kept: unknown): T;
}
