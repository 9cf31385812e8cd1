import type { PrintOptions } from './print';

/** Formats of a still's access copy. */
export const STILL_ACCESS = ['jpeg', 'webp', 'avif'] as const;
export type StillAccess = (typeof STILL_ACCESS)[number];

/** Spaces a still's master can be handed over in: the source's own, sRGB, Display P3, and a wide one with the primaries of BT.2020. */
export const STILL_SPACES = ['source', 'srgb', 'display-p3', 'wide'] as const;
export type StillSpace = (typeof STILL_SPACES)[number];

/** Quality of an access copy at first, by its format: nothing is seen at 200 %. */
export const ACCESS_QUALITY: Record<StillAccess, number> = { jpeg: 95, webp: 92, avif: 75 };

/** What a job hands over, and under which names. */
export interface JobOptions {
  /** File name pattern with {collection}, {item}, {kind}, {date}. */
  pattern: string;
  original: boolean;
  master: boolean;
  access: boolean;
  /** Format of a still's master. */
  stillMaster: 'tiff' | 'png';
  /** Space of a still master's colours; the source's own where it is left out. */
  stillSpace?: StillSpace;
  /** Format of a still's access copy, and its quality, 1 to 100; JPEG of the quality at first where jobs of before do not say. */
  stillAccess?: StillAccess;
  accessQuality?: number;
  /** Bytes the access copy of a still is to stay under; its quality is then as high as goes, `accessQuality` at most. */
  accessUnder?: number;
  /** Pixels an inch said in stills. */
  ppi: number;
  /** People of a still by the names that People has for them, and where their faces are, in the metadata. */
  namePlaces?: boolean;
  /** A sheet that shows a still before and after. */
  sheet?: boolean;
  /** A still as a print on paper. */
  print?: PrintOptions;
}

export const DEFAULT_JOB_OPTIONS: JobOptions = {
  pattern: '{item} {kind}',
  original: true,
  master: true,
  access: true,
  stillMaster: 'tiff',
  ppi: 300,
};

/** What a job has to make of a still: papers need the master, whether or not it is handed over. */
export const makesMaster = ({ master, sheet, print }: JobOptions): boolean => master || sheet === true || print !== undefined;

/** Whether a job hands anything over. */
export const handsOver = ({ original, master, access, sheet, print }: JobOptions): boolean =>
  original || master || access || sheet === true || print !== undefined;
