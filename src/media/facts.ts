import type { StreamInfo } from '../core';
import type { Part } from './part';

/** A sound or subtitle track as its container describes it. */
export interface TrackFacts {
  /** Stream number in the file. */
  index: number;
  kind: 'sound' | 'subtitles';
  codec: string;
  /** Three-letter code (ISO 639-2), or empty. */
  language: string;
  title: string;
  default: boolean;
  forced: boolean;
  channels?: number;
  sampleRate?: number;
  /** Subtitles kept as pictures, which only some containers hold. */
  bitmap?: boolean;
}

/** An ICC profile that a file brings. */
export interface EmbeddedProfile {
  name: string;
  /** Base 64. */
  icc: string;
}

/** What the container and codec say of a file. */
export interface MediaFacts {
  kind: 'still' | 'moving';
  /** Which part of the file this is; all of it when left out. */
  part?: Part;
  /** Pages that are pictures of their own, or how many picture streams the file has, where there are several. */
  holds?: { pages?: number[]; streams?: number };
  /** Container or still format. */
  container: string;
  codec: string;
  pixelFormat: string;
  bytes: number;
  stream: StreamInfo;
  /** Seconds; 0 for a still. */
  duration: number;
  /** Seconds from the file's first timestamp to the first frame. */
  videoStart: number;
  /** Frames do not follow at one rate; they are put on an even one by nearest time. */
  variableRate: boolean;
  /** Unit of the video's time stamps, seconds as a fraction. */
  timeBase?: string;
  /** Quantiser step the video was coded with, in the unit of the condition report's `coding`, where its codec tells. */
  codedStep?: number;
  tracks: TrackFacts[];
  chapters: number;
  /** Space of a still's red, green and blue, where it is another than sRGB and the samples stay in it. */
  profile?: EmbeddedProfile;
  /** Pixels an inch a still says it has. */
  density?: number;
  /** What is wrong with the file, in words. */
  damage: string[];
  /** Circumstances worth knowing, in words. */
  notes: string[];
}
