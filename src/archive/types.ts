import type { About } from '../shared/about';
import type { JobOptions } from '../shared/jobs';
import type { ConditionReport, PlanTemplate, TraceId, TraceKind, Traces } from '../core';
import type { Plan, PlanStep } from '../shared/plan';
import type { Place } from '../shared/maps/place';
import type { MediaFacts } from '../media';

export interface Collection {
  id: string;
  name: string;
  note: string;
  /** Date the work is due, ISO 8601, or nothing. */
  due: string | null;
  created: string;
}

/** A collection with what is in it and what is left to do. */
export interface CollectionSummary extends Collection {
  items: number;
  delivered: number;
  /** How many people are known in it. */
  people: number;
  /** Items that show what it holds, in the order they came. */
  shown: Pick<Item, 'id' | 'name'>[];
  /** Appearances that show who is in it, each another person's, those first who are seen most often. */
  faces: string[];
}

export type ItemState = 'examining' | 'ready' | 'failed';

/** A file as it came, kept untouched. */
export interface Source {
  id: string;
  /** Inside the archive's sources. */
  path: string;
  fileName: string;
  sha256: string;
  bytes: number;
}

/** A picture or a film that is worked on: a source, or a part of one. */
export interface Item {
  id: string;
  collectionId: string;
  name: string;
  source: Source;
  kind: 'still' | 'moving';
  /** Of the part, which they name. */
  facts: MediaFacts;
  condition: ConditionReport | null;
  /** What people tell of it; written into what is handed over. */
  about: About;
  state: ItemState;
  message: string;
  created: string;
}

/** An item as a search tells of it. */
export interface FoundItem {
  id: string;
  name: string;
  collection: string;
}

export interface PlanVersion {
  version: number;
  /** Version it was made from; null for the first. */
  parent: number | null;
  /** As the restorer calls it, or empty. */
  name: string;
  plan: Plan;
  /** What was changed, in words. */
  change: string;
  created: string;
}

/** Every version of an item's plan, the present one, and the newest of the branch it lies on. */
export interface PlanHistory {
  versions: PlanVersion[];
  current: number;
  tip: number;
}

/** What was measured of one candidate, on the piece of the picture it was tried on. */
export interface StripFigures {
  /** Seconds the step takes for a whole frame, reckoned from the piece; null where that is not known. */
  seconds: number | null;
  /** Width of the clear edges in pixels; null where there are none. */
  edges: number | null;
  /** Deviation of the grain that is left, on the 0 to 255 scale. */
  noise: number;
  /** Share the source does not support. */
  invented: number;
}

/** One setting of the step a strip is about. */
export interface StripCandidate {
  /** What differs, in words. */
  label: string;
  step: PlanStep;
  figures?: StripFigures;
}

export interface StripContent {
  /** The plan as it was, whose step is replaced by each candidate's. */
  plan: Plan;
  step: string;
  /** The step and what differs, in words. */
  about: string;
  frame: number;
  /** Piece of the picture, as fractions of the output. */
  region: Place;
  candidates: StripCandidate[];
  /** Number of the candidate that was taken into the plan. */
  chosen: number | null;
}

export interface Strip extends StripContent {
  id: string;
  itemId: string;
  created: string;
}

export interface KeptTemplate {
  id: string;
  /** The archive's own; otherwise it comes with the program. */
  own: boolean;
  template: PlanTemplate;
}

/** What a template would change of an item's plan. */
export interface TemplatePreview {
  itemId: string;
  name: string;
  changes: string[];
  /** Why it cannot be applied. */
  problem?: string;
}

/** The traces of an item as far as they are measured. */
export interface TracesAnswer extends Traces {
  /** Share that is measured, 0 to 1, and the seconds until all is. */
  share: number;
  secondsLeft?: number;
  kinds: TraceKind[];
  /** Where each stands highest, the worst first. */
  worst: Record<TraceId, { frame: number; value: number }[]>;
  /** Why it stopped, where it did. */
  problem?: string;
}

export type JobState = 'queued' | 'running' | 'paused' | 'done' | 'failed' | 'cancelled';

/** States of jobs that have not ended. */
export const UNFINISHED_STATES: JobState[] = ['queued', 'running', 'paused'];

/** When and with how much the queue works. */
export interface QueueSettings {
  paused: boolean;
  /** Hours it works in, `HH:MM`; always when either is missing. */
  from: string | null;
  to: string | null;
  /** Most threads it takes; all of the machine's when missing. */
  threads: number | null;
  /** Most memory it takes, in GiB; no bound when missing. */
  memory: number | null;
}

export interface Job {
  id: string;
  itemId: string;
  planVersion: number;
  plan: Plan;
  options: JobOptions;
  state: JobState;
  position: number;
  frames: number;
  message: string;
  created: string;
  started: string | null;
  finished: string | null;
}

/** A job as the queue shows it. */
export interface JobProgress extends Job {
  itemName: string;
  collectionId: string;
  collectionName: string;
  kind: 'still' | 'moving';
  framesDone: number;
  segments: number;
  segmentsDone: number;
  /** Seconds a frame takes, with as many pieces under way as there are now. */
  secondsPerFrame: number | null;
  secondsLeft: number | null;
}

export interface Segment {
  jobId: string;
  number: number;
  first: number;
  count: number;
}

export type DeliverableKind = 'original' | 'master' | 'monochrome' | 'access' | 'subtitles' | 'sheet' | 'print' | 'provenance';

export interface Deliverable {
  kind: DeliverableKind;
  fileName: string;
  bytes: number;
  sha256: string;
  note: string;
}

export interface Delivery {
  id: string;
  jobId: string;
  itemId: string;
  itemName: string;
  collectionName: string;
  /** Folder inside the archive's deliveries. */
  folder: string;
  notes: string[];
  created: string;
  /** When its files were last held against their checksums, and what was wrong; empty when nothing was. */
  checked: string | null;
  problem: string;
  files: Deliverable[];
}
