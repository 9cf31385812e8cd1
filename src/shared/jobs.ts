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
