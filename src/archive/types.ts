import type { ConditionReport } from '../core/condition/report';
import type { Plan } from '../core/plan/plan';
import type { MediaFacts } from '../media/facts';

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
}

export type ItemState = 'examining' | 'ready' | 'failed';

export interface Item {
  id: string;
  collectionId: string;
  name: string;
  fileName: string;
  kind: 'still' | 'moving';
  /** Path of the original, inside the archive's sources. */
  source: string;
  sha256: string;
  bytes: number;
  facts: MediaFacts;
  condition: ConditionReport | null;
  state: ItemState;
  message: string;
  created: string;
}

export interface PlanVersion {
  version: number;
  plan: Plan;
  /** What was changed, in words. */
  change: string;
  created: string;
}

export type JobState = 'queued' | 'running' | 'done' | 'failed' | 'cancelled';

/** What a job hands over, and under which names. */
export interface JobOptions {
  /** File name pattern with {collection}, {item}, {kind}, {date}. */
  pattern: string;
  original: boolean;
  master: boolean;
  access: boolean;
  /** Format of a still's master. */
  stillMaster: 'tiff' | 'png';
  /** Pixels an inch said in stills. */
  ppi: number;
}

export const DEFAULT_JOB_OPTIONS: JobOptions = {
  pattern: '{item} {kind}',
  original: true,
  master: true,
  access: true,
  stillMaster: 'tiff',
  ppi: 300,
};

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
  /** Seconds of computing a frame, over one core. */
  secondsPerFrame: number | null;
  secondsLeft: number | null;
}

export interface Segment {
  jobId: string;
  number: number;
  first: number;
  count: number;
}

export type DeliverableKind = 'original' | 'master' | 'access' | 'subtitles' | 'provenance';

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
  files: Deliverable[];
}
