import type { DirtReading } from './dirt';
import type { Motion } from '../focus/findMotion';
import type { Fading } from './fading';
import type { Ink } from '../halftone/inks';
import type { Screen } from '../halftone/screens';
import type { FieldOrder } from '../picture/picture';
import type { SilveringReading } from '../silvering/measure';

/** How much of a fault there is. */
export type Severity = 'none' | 'slight' | 'moderate' | 'strong';
const SEVERITIES: readonly Severity[] = ['strong', 'moderate', 'slight', 'none'];

/** The gravest first; those of one severity in the order they were found. */
export const gravestFirst = (findings: Finding[]): Finding[] =>
  SEVERITIES.flatMap((severity) => findings.filter((finding) => finding.severity === severity));

/** How many faces a still has, and how wide the smallest and the largest is, in pixels. */
export interface FacesReading {
  count: number;
  least: number;
  most: number;
}

export type FindingId =
  'fields' | 'grain' | 'colour' | 'bars' | 'compression' | 'focus' | 'dirt' | 'silvering' | 'halftone' | 'tone' | 'prints' | 'faces';

/** One thing measured, in words and numbers. */
export interface Finding {
  id: FindingId;
  /** What was measured, as the report's row is called. */
  name: string;
  /** Plain reading, a few words. */
  reading: string;
  /** Figures and circumstances beneath it. */
  detail: string;
  severity: Severity;
  /** How sure the measurement is, 0 to 1. */
  confidence: number;
}

/** The measurements the proposals are made from. */
export interface Measurements {
  scan: 'still' | 'progressive' | 'interlaced' | 'telecined' | 'unknown';
  fieldOrder: FieldOrder;
  scanConfidence: number;
  /** Deviation of the grain on the 0 to 255 scale. */
  grainLuma: number;
  grainChroma: number;
  /** What the grain is at least: a doubt or two below the reading, see `doubt.ts`. */
  grainLumaLeast: number;
  grainChromaLeast: number;
  /** How sure the readings of grain and of the coding are, 0 to 1. */
  grainConfidence: number;
  grainChromaConfidence: number;
  codingConfidence: number;
  /** Radius of the grain in pixels of luma and of the chroma planes; 0 is white noise. */
  grainSize: number;
  grainSizeChroma: number;
  monochrome: boolean;
  /** Monochrome with a tint, as sepia prints have. */
  toned: boolean;
  /** Black rows and columns at the edges, in pixels of the source. */
  bars: { left: number; right: number; top: number; bottom: number };
  /** Steps at the 8 x 8 grid against steps elsewhere; 1 is none. */
  blocking: number;
  /** Quantiser step of the compression that left them, 0 to 255 codes; 0 where none is seen. */
  coding: number;
  /** Whether the codec or the file itself said that step, which cannot be misread. */
  codingTold?: boolean;
  /** Radius of the picture's softness in pixels; 0 for edges as sharp as pixels can be. */
  blur: number;
  /** Damage of a still; of moving images, and in reports from before it was looked for, left out. */
  dirt?: DirtReading;
  /** Silver come to the surface; left out as `dirt` is. */
  silvering?: SilveringReading;
  /** Motion of the camera in a still; left out where none stands out. */
  motion?: Motion;
  /** How far a still has faded; left out as `dirt` is, and where no border of white paper tells. */
  fading?: Fading;
  /** Faces; left out as `dirt` is, and where there are none. */
  faces?: FacesReading;
  /** Corners of each print that lies before an even ground, the largest first, as the setting of Perspective has them; left out as `dirt` is. */
  papers?: string[];
  /** Printing screens of a still, black's first; left out as `dirt` is. Reports of version 2 do not name the inks. */
  screens?: (Screen & { ink?: Ink })[];
}

/** Confidence from which a reading is called sure, and from which it is called likely; less is unsure and not acted on. */
export const SURE = 0.9,
  LIKELY = 0.8;

export interface ConditionReport {
  measurements: Measurements;
  findings: Finding[];
  /** Frames that were looked at. */
  sampled: number[];
}
