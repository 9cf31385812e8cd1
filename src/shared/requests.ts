import type { About } from './about';
import type { JobOptions, StillAccess } from './jobs';
import type { Place } from './maps/place';
import type { StrokeMark } from './marks';
import type { Stroke } from './masks/brush';
import type { Plan, PlanStep } from './plan';

/**
 * Bodies of requests, as the pages write them and the routes check them (`src/app/bodies.ts`). Where `P` or `S` stand, a route holds a plan or a
 * step that it has not read yet.
 */

/** A new collection. */
export interface CollectionRequest {
  name: string;
  note?: string;
  /** ISO 8601 date. */
  due?: string;
}

/** Files of this machine that are taken in. */
export interface TakeInRequest {
  /** A file or a folder. */
  path: string;
}

/** What is told of an item; what is left out stays. */
export type AboutRequest = Partial<About>;

/** Who somebody is; what is left out stays, null takes a year away. */
export interface PersonRequest {
  name?: string;
  born?: number | null;
  died?: number | null;
}

/** Most faces that are named at once. */
export const MOST_FACES = 500;

/** What is said of the people of a collection. */
export type PeopleRequest =
  | { action: 'merge'; into: string; from: string }
  /** Faces given to somebody, to a person of their own, or to nobody. */
  | { action: 'move'; faces: string[]; to: string | null }
  | { action: 'dismiss'; faces: string[] }
  | { action: 'answer'; a: string; b: string; said: 'same' | 'different' | 'unsure' }
  | { action: 'forget'; person: string }
  /** Has the films looked through too. */
  | { action: 'films' }
  | { action: 'undo' };

/** A changed plan. */
export interface PlanRequest<P = Plan> {
  plan: P;
  /** What was changed, for the history. */
  change: string;
}

/** A face by its middle, in fractions of the source; along a film in one of its frames. */
export interface ReferencesRequest {
  x: number;
  y: number;
  frame?: number;
}

/** A version of the plan that is gone back or forward to. */
export interface VersionRequest {
  version: number;
}

/** The name of a version; empty takes it away. */
export interface VersionNameRequest {
  name: string;
}

/** A plan that becomes a template. */
export interface ItemTemplateRequest {
  name: string;
  about: string;
  /** Keys of the settings that stay as they are, by step. */
  fixed: Record<string, string[]>;
}

/** A template laid on items of a collection. */
export interface ApplyTemplateRequest {
  template: string;
  items: string[];
  /** Only says what would change. */
  preview: boolean;
}

/** What answers are computed for: `source` is served first, `picture` next, `side` (patches, thumbnails, strips) last. */
export const PROOF_LANES = ['source', 'picture', 'side'] as const;
export type ProofLane = (typeof PROOF_LANES)[number];

/** What is to be seen of a plan. */
export interface ProofQuery<P = Plan> {
  plan: P;
  frame: number;
  /** Part of the plan's output, as fractions of its width and height. */
  region: Place;
  /** Id of a step, a fork or a branch, or `source`; the plan's output when left out. */
  node?: string;
  /** The evidence map instead of the picture: grey where the source supports the result, amber where it was invented, blue where its colour was, green where it is another picture’s. */
  evidence?: boolean;
  /** Id of a step: what it takes for faults is tinted in the picture it reads, and counted. */
  found?: string;
  /** Measures the result too. */
  figures?: boolean;
  /** A quick first look, which the whole follows: not what a render gives. */
  draft?: boolean;
  /** A first look at a still's result that is worked on the picture as small as it is shown; no content comes where there is none. */
  coarse?: boolean;
  /** The answer is reduced to at most this many pixels wide and high; it is never enlarged. */
  fit: { width: number; height: number };
  viewer: string;
  /** Number of the viewer's query: a higher one drops those before it. */
  turn: number;
  lane: ProofLane;
}

/** What is measured of a strip's candidates. */
export interface StripFiguresRequest {
  seconds: number | null;
  edges: number | null;
  noise: number;
  /** Share of the part that the source does not support, 0 to 1. */
  invented: number;
}

/** Variants of one step that are looked at side by side. */
export interface StripRequest<P = Plan, S = PlanStep> {
  plan: P;
  step: string;
  /** What is tried, in words. */
  about: string;
  frame: number;
  region: Place;
  candidates: { label: string; step: S }[];
}

/** What came of a strip; what is left out stays. */
export interface StripUpdateRequest {
  chosen?: number;
  figures?: StripFiguresRequest[];
}

/** Strokes on a painted part of a mask. */
export interface PaintRequest {
  /** Document that is painted on; an empty one when left out. */
  base?: string;
  strokes: Stroke[];
}

/** Strokes of a step's hand work that are added, changed under their ids, or removed. */
export interface StrokesRequest<M = StrokeMark> {
  /** List that is changed; a new one when left out. */
  base?: string;
  set: M[];
  /** Ids. */
  remove: string[];
}

/** An item that becomes two. */
export interface SplitRequest {
  /** First frame of the second half, of the item's source. */
  frame: number;
}

/** A job for the queue; options left out are the defaults. */
export interface JobRequest extends Partial<JobOptions> {
  itemId: string;
}

/** What is asked of an access copy before it is made. */
export interface SizeRequest<P = Plan> {
  plan: P;
  kind: StillAccess;
  quality: number;
  /** Bytes it is to stay under. */
  under?: number;
}

export interface SizeAnswer {
  bytes: number;
  /** Quality it has with that size. */
  quality: number;
  /** Whether the whole result was encoded to know it. */
  exact: boolean;
}

/** What can be done with a job in the queue. */
export const JOB_ACTIONS = ['pause', 'resume', 'retry', 'move'] as const;
export type JobAction = (typeof JOB_ACTIONS)[number];

export interface JobActionRequest {
  action: JobAction;
  /** Place among the jobs that have not ended, from 0; of a move. */
  to?: number;
}

/** Changes to the queue's settings; what is left out stays, null takes a bound away. */
export interface QueueRequest {
  paused?: boolean;
  /** Hours, `22:30`. */
  from?: string | null;
  to?: string | null;
  threads?: number | null;
  /** GiB. */
  memory?: number | null;
}
