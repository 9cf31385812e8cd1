import { cutPicture, wholeRegion, type Picture, type StreamInfo } from '../picture/picture';
import { findFaces } from '../faces/find';
import { findMotion } from '../focus/findMotion';
import { steepnessAlong } from '../focus/steepness';
import { cornersText } from '../../shared/settings';
import { findPapers } from '../warp/findPaper';
import { measureFading, type Fading } from './fading';
import { findInks, type InkScreen } from '../halftone/inks';
import { SWINGS_AS_INK } from '../halftone/screens';
import { codeOf, type ErrorCode } from '../errors';
import { network } from '../networks/model';
import type { FrameSource } from '../graph/node';
import { judgeFields, type FieldVerdict } from './fields';
import { measureDamage } from './damage';
import { atLeast, confidenceOf } from './doubt';
import { gravestFirst, LIKELY, SURE, type ConditionReport, type Finding, type Measurements, type Severity } from './report';
import { measureBlur } from './blur';
import { measureBars } from './bars';
import { type DirtReading, dirtWords, measureDirt } from './dirt';
import { isSilvered, measureSilvering, silveringWords } from '../silvering/measure';
import { surelyDirt } from '../treatments/dirt/dirt';
import { measureBlocking, measureColour } from './surface';
import { median } from '../metrics/median';

/** Runs of consecutive frames that are looked at, and their length: two telecine cycles and one more. */
const RUNS = 4;
const RUN_LENGTH = 11;

/** Steps at the grid against others from which blocks are spoken of. */
const BLOCKS_SEEN = 1.12;

/** Quantiser step from which a grid is the codec's. */
const BLOCKS_FROM = 2;

/** Quantiser steps from which coding is spoken of, and from which it shows. */
const COARSE_ENOUGH = 4,
  COARSE = 10;

/** Measured steps from so many times the told one are an earlier codec's. */
const CODED_BEFORE = 2;

/** Decibels from which peaks of the spectrum are a printing screen: weaves and fences reach 19. */
const SCREEN_SEEN = 24;
/** Codes of 255 that it swings by at least: less is what rounding leaves of drawn pictures. */
const SWING_SEEN = 1;

/** Deviations from which a deep point of the cepstrum is a motion: of short ones, which edges tell little of, pictures without one reach 4.7. */
const MOTION_SEEN = { from: 4.2, short: 5, shortTo: 6 };
/** How much steeper than a motion leaves them edges along it may be. */
const STEEPEST = 1.8;

function motionOf({ planes: [luma] }: Picture): Pick<Measurements, 'motion'> {
  const motion = findMotion(luma);
  if (!motion) return {};
  const { from, short, shortTo } = MOTION_SEEN;
  const seen = motion.strength >= (motion.length < shortTo ? short : from);
  return seen && steepnessAlong(luma, motion) <= STEEPEST ? { motion } : {};
}

const NETWORK: ErrorCode = 'network';

/** What a network says of a still; nothing is said where it cannot be used. */
async function unlessMissing<T extends Partial<Measurements>>(measured: () => Promise<T>): Promise<Partial<T>> {
  try {
    return await measured();
  } catch (error) {
    if (codeOf(error) !== NETWORK) throw error;
    return {};
  }
}

async function facesOf(picture: Picture): Promise<Pick<Measurements, 'faces'>> {
  const widths = (await findFaces(picture)).faces.map(({ pixels }) => pixels);
  return widths.length ? { faces: { count: widths.length, least: Math.min(...widths), most: Math.max(...widths) } } : {};
}

export interface ExamineOptions {
  /** Called with the share done, 0 to 1. */
  progress?: (done: number) => void;
  /** Whether the faces of a still are counted: no step is proposed on for them, and it takes long. Yes when left out. */
  counts?: boolean;
  /** Measures the damage of a still in another thread, while the rest is measured; it is measured in this one when left out. */
  dirt?: () => Promise<DirtReading>;
}

/** Looks at a few runs of frames and says what condition they are in. */
export async function examine(source: FrameSource, { progress, counts = true, dirt }: ExamineOptions = {}): Promise<ConditionReport> {
  const { info } = source;
  // Read while frames are decoded; whatever is wrong with it is said where it is used.
  void network('condition').catch(() => undefined);
  const { runs, sampled } = await looksOf(source, progress);
  const fields = fieldsOf(runs, source);
  const [picture] = runs[0];
  const still = info.frames === 1;
  const damaged = still && unlessMissing(async () => ({ dirt: await (dirt ? dirt() : measureDirt(picture)) }));
  const silvered = still && unlessMissing(async () => ({ silvering: await measureSilvering(picture) }));
  const [damage, silver, measured] = await Promise.all([damaged, silvered, measure(runs, source, fields)]);
  const faces = still && counts && (await facesOf(picture));
  return { ...describe({ ...measured, ...damage, ...silver, ...faces }, fields, info), sampled };
}

/** What a plan that is there already needs to know of its source: whether its frames are fields, and which comes first. */
export async function examineFields(source: FrameSource): Promise<ScanReading> {
  const fields = source.info.frames > 1 ? fieldsOf((await looksOf(source)).runs, source) : undefined;
  return scanOf(fields, source.info);
}

/** The part of the measurements that says how the frames came about. */
export type ScanReading = Pick<Measurements, 'scan' | 'fieldOrder' | 'scanConfidence'>;

function scanOf(fields: FieldVerdict | undefined, info: StreamInfo): ScanReading {
  // A still's field order is of no account; an undecided clip keeps what its container says.
  if (!fields) return { scan: 'still', fieldOrder: 'progressive', scanConfidence: 1 };
  return { scan: fields.scan, fieldOrder: fields.scan === 'unknown' ? info.fieldOrder : fields.order, scanConfidence: fields.confidence };
}

const fieldsOf = (runs: Picture[][], source: FrameSource): FieldVerdict | undefined =>
  source.info.frames > 1
    ? judgeFields(
        runs.map((run) => run.map((p) => p.planes[0])),
        source.interlaces ?? true,
        source.info.fieldOrder !== 'progressive',
      )
    : undefined;

async function looksOf(source: FrameSource, progress?: (done: number) => void): Promise<{ runs: Picture[][]; sampled: number[] }> {
  const { info } = source;
  const numbers = sampleFrames(info.frames);
  const runs: Picture[][] = [];
  const sampled = numbers.flat();
  let done = 0;
  for (const run of numbers) {
    const pictures: Picture[] = [];
    for (const n of run) {
      pictures.push(await source.frame(n, wholeRegion(info)));
      progress?.(++done / sampled.length);
    }
    runs.push(pictures);
  }
  return { runs, sampled };
}

function sampleFrames(frames: number): number[][] {
  if (frames === 1) return [[0]];
  const length = Math.min(RUN_LENGTH, frames);
  const count = Math.min(RUNS, Math.max(1, Math.floor(frames / length)));
  return Array.from({ length: count }, (_, r) => {
    const start = Math.round(((frames - length) * (r + 0.5)) / count);
    return Array.from({ length }, (__, i) => start + i);
  });
}

async function measure(runs: Picture[][], source: FrameSource, fields: FieldVerdict | undefined): Promise<Measurements> {
  const { info, codedStep: told = 0 } = source;
  const looks = runs.flatMap((run) => (run.length > 2 ? [run[0], run[run.length >> 1]] : run.slice(0, 1)));
  const byLines = fields ? fields.scan !== 'progressive' : false;
  const still = info.frames === 1;
  const colours = (still ? looks.map((p) => withoutBorder(p, SILVERED)) : looks).map(measureColour);
  const { luma, chroma, step } = await measureDamage(still ? [looks.map((p) => withoutBorder(p, MOUNT))] : runs, info, byLines, told);
  const blocking = median(looks.map((p) => measureBlocking(p).ratio));
  // What the codec tells is exact, but the picture may have come through a coarser one before.
  const codecTells = told > 0 && atLeast(step) < CODED_BEFORE * told;
  return {
    ...scanOf(fields, info),
    grainLuma: luma.grain.value,
    grainChroma: chroma.grain.value,
    grainLumaLeast: luma.least,
    grainChromaLeast: chroma.least,
    grainConfidence: confidenceOf(luma.grain.doubt),
    grainChromaConfidence: confidenceOf(chroma.grain.doubt),
    grainSize: inSteps(luma.size),
    grainSizeChroma: inSteps(chroma.size),
    monochrome: colours.every((c) => c.monochrome),
    toned: colours.every((c) => c.toned),
    bars: measureBars(looks),
    blocking,
    coding: codecTells ? told : step.value,
    codingTold: codecTells,
    codingConfidence: codecTells ? 1 : confidenceOf(step.doubt),
    blur: median(looks.flatMap((p) => measureBlur(p.planes[0]) ?? [])),
    ...(still && motionOf(looks[0])),
    ...(still && printOf(looks[0])),
    ...(still && { screens: screensOf(looks[0]) }),
  };
}

/** A still's screens where one of them is surely there. */
function screensOf(picture: Picture): InkScreen[] {
  const inks = findInks(picture);
  return inks.some((s) => s.strength >= SCREEN_SEEN && s.swing >= SWING_SEEN) ? inks : [];
}

/** What the papers on a still are, and how far it has faded: round several prints there is no border of one. */
function printOf(picture: Picture): Pick<Measurements, 'fading' | 'papers'> {
  const papers = papersOn(picture);
  return { papers, ...(papers.length < 2 && { fading: measureFading(picture) }) };
}

/** Corners of the prints on a scan or a photograph of them. */
const papersOn = ({ planes, region }: Picture): string[] =>
  findPapers(planes[0]).map((paper) => cornersText(paper.map(({ x, y }) => ({ x: x / region.width, y: y / region.height }))));

/** A grain's radius in the steps its setting has. */
const inSteps = (size: number): number => Math.round(size * 20) / 20;

/** Shares of a still's sides that may be its mount or card, of another grain, and that may be silvered, which is no colour. */
const MOUNT = 0.07,
  SILVERED = 0.15;

function withoutBorder(picture: Picture, share: number): Picture {
  const { width, height } = picture.region;
  const x = 2 * Math.round((width * share) / 2),
    y = 2 * Math.round((height * share) / 2);
  return cutPicture(picture, { x, y, width: width - 2 * x, height: height - 2 * y });
}

const graded = (value: number, slight: number, moderate: number, strong: number): Severity =>
  value < slight ? 'none' : value < moderate ? 'slight' : value < strong ? 'moderate' : 'strong';

const sureness = (confidence: number): string => (confidence >= SURE ? 'sure' : confidence >= LIKELY ? 'likely' : 'unsure');

function describe(m: Measurements, fields: FieldVerdict | undefined, info: StreamInfo): Pick<ConditionReport, 'measurements' | 'findings'> {
  const findings: Finding[] = [];
  if (fields) findings.push(fieldFinding(m, fields, info));
  const grain = graded(m.grainLuma, 1.2, 3.5, 8);
  findings.push({
    id: 'grain',
    name: 'Grain',
    reading: `${m.grainConfidence < LIKELY ? 'perhaps ' : ''}${grain === 'none' ? 'none to speak of' : `${grain}, σ ${m.grainLuma.toFixed(1)}`}`,
    detail: `luma σ ${m.grainLuma.toFixed(1)}${info.planes === 3 ? `, chroma σ ${m.grainChroma.toFixed(1)}` : ''} on the scale to 255${grain !== 'none' && m.grainSize > 0 ? `; size ${m.grainSize.toFixed(1)} px` : ''}`,
    severity: grain,
    confidence: m.grainConfidence,
  });
  findings.push({
    id: 'colour',
    name: 'Colour',
    reading: m.monochrome ? (m.toned ? 'monochrome, toned' : 'monochrome') : 'in colour',
    detail: m.monochrome
      ? m.toned
        ? 'one tone for each lightness, as in sepia prints'
        : 'no colour in the frames looked at'
      : 'colours throughout',
    severity: 'none',
    confidence: 0.9,
  });
  const { left, right, top, bottom } = m.bars;
  const bars = left + right + top + bottom;
  findings.push({
    id: 'bars',
    name: 'Black bars',
    reading: bars ? `left ${left}, right ${right}, top ${top}, bottom ${bottom} px` : 'none',
    detail: bars ? 'black in every frame looked at' : 'the picture reaches all four edges',
    severity: bars ? 'slight' : 'none',
    confidence: 0.9,
  });
  // H.264 smooths its blocks and is coarse all the same.
  const told = m.coding >= (m.codingTold ? 1 : COARSE_ENOUGH) && m.codingConfidence >= LIKELY;
  const coarse = m.coding >= COARSE && told;
  // A pattern may have the codec's grid without its coding.
  const blocks = m.coding >= BLOCKS_FROM ? graded(m.blocking, BLOCKS_SEEN, 1.5, 2.5) : 'none';
  findings.push({
    id: 'compression',
    name: 'Compression',
    reading: blocks !== 'none' ? `blocks ${blocks}` : coarse ? 'coarse, no blocks seen' : 'no blocks seen',
    detail: `steps at the 8 × 8 grid ${m.blocking.toFixed(2)} times those elsewhere${told ? `; quantiser step ${m.codingTold ? `${m.coding.toFixed(1)}, as the file says` : `about ${m.coding.toFixed(0)}`}` : ''}`,
    severity: blocks === 'none' && coarse ? 'slight' : blocks,
    confidence: blocks === 'none' && m.coding < COARSE ? 1 : m.codingConfidence,
  });
  const soft = graded(m.blur, 0.5, 0.9, 1.5);
  findings.push({
    id: 'focus',
    name: 'Focus',
    reading: m.motion
      ? `perhaps moved, ${m.motion.length.toFixed(1)} px at ${m.motion.angle.toFixed(0)}°`
      : soft === 'none'
        ? 'sharp'
        : `${soft} softness, ${m.blur.toFixed(1)} px`,
    detail: 'width of the sharpest edges; lens, scanner and motion together',
    severity: soft,
    confidence: 0.6,
  });
  const prints = m.papers?.length ?? 0;
  if (prints > 0) {
    findings.push({
      id: 'prints',
      name: 'Prints',
      reading: prints === 1 ? 'one, within an even border' : `${prints} on one scan`,
      detail:
        prints === 1 ? 'its four corners are found; Perspective cuts it out and straightens it' : 'the four corners of each are found',
      severity: 'none',
      confidence: 0.9,
    });
  }
  if (m.faces) {
    const { count, least, most } = m.faces;
    findings.push({
      id: 'faces',
      name: 'Faces',
      reading: count === 1 ? `one, ${most} px wide` : `${count}, ${least === most ? most : `${least} to ${most}`} px wide`,
      detail: 'as far as they are seen; Faces in the plan restores small ones',
      severity: 'none',
      confidence: 0.8,
    });
  }
  if (m.fading) findings.push(fadingFinding(m.fading, m.monochrome));
  const { screens = [] } = m;
  const [screen] = screens;
  if (screen) {
    const ink = screen.swing >= SWINGS_AS_INK;
    findings.push({
      id: 'halftone',
      name: 'Halftone',
      reading: `${ink ? 'a printing screen' : 'paper texture or moiré'} of ${screen.period.toFixed(1)} px`,
      detail: `${screens.map((s) => `${ink && screens.length > 1 ? `${s.ink} ` : ''}${s.angle.toFixed(0)}°`).join(', ')}; ${screen.strength.toFixed(0)} dB above what is round it in the spectrum, swings by ${screen.swing.toFixed(0)} of 255`,
      severity: ink ? 'strong' : 'moderate',
      confidence: 0.95,
    });
  }
  if (m.silvering && isSilvered(m.silvering)) {
    const { share } = m.silvering;
    findings.push({
      id: 'silvering',
      name: 'Silvering',
      reading: `perhaps ${silveringWords(m.silvering)}`,
      detail: `a veil over the dark parts of ${share.toFixed(1)} % of the picture: silver come to the surface`,
      severity: graded(share, 0.5, 4, 12),
      confidence: 0.6,
    });
  }
  if (m.dirt) {
    const { share } = m.dirt;
    findings.push({
      id: 'dirt',
      name: 'Dirt',
      reading: dirtWords(m.dirt),
      detail: `${share < 0.01 && share > 0 ? 'under 0.01' : share.toFixed(2)} % of the picture${m.dirt.sampled ? ', reckoned from parts spread over it' : ''}; ${surelyDirt(m.dirt) ? 'it stands out from what the picture shows' : 'told from the picture by its looks alone'}`,
      severity: graded(share, 0.005, 0.1, 0.6),
      confidence: surelyDirt(m.dirt) ? 0.95 : 0.6,
    });
  }
  return { measurements: m, findings: gravestFirst(findings) };
}

/** Density by which a dye must have faded, stops by which colours must be kept back unlike one another, and of uneven light, to be told. */
const FADED_FROM = 0.12,
  CAST_FROM = 0.15,
  UNEVEN_FROM = 0.15;
const DYES = ['cyan', 'magenta', 'yellow'],
  COLOURS = ['red', 'green', 'blue'];

/** What has become of the dyes of a print, of its paper, and how evenly it was lit. */
function fadingFinding({ left, base, uneven }: Fading, monochrome: boolean): Finding {
  const least = Math.min(...base);
  const dyes = left.flatMap((share, c) => (share < 1 - FADED_FROM ? [`${DYES[c]} dye ${Math.round(100 * (1 - share))} % weaker`] : [])),
    casts = base.flatMap((stops, c) =>
      stops - least > CAST_FROM ? [`${COLOURS[c]} kept back by ${(stops - least).toFixed(1)} stops`] : [],
    ),
    edges = [
      { name: uneven.across > 0 ? 'right edge' : 'left edge', stops: Math.abs(uneven.across) },
      { name: uneven.down > 0 ? 'lower edge' : 'upper edge', stops: Math.abs(uneven.down) },
      { name: uneven.corners > 0 ? 'corners' : 'middle', stops: Math.abs(uneven.corners) },
    ].flatMap(({ name, stops }) => (stops > UNEVEN_FROM ? [`${name} darker by ${stops.toFixed(1)} stops`] : []));
  // One silver image has no dyes; what its tone is, the row of its colour says.
  const silver = 1 - (left[0] + left[1] + left[2]) / 3;
  const faded = monochrome ? (silver > FADED_FROM ? [`image ${Math.round(100 * silver)} % weaker`] : []) : [...dyes, ...casts];
  const told = [...faded, ...edges];
  const most = Math.max(monochrome ? silver : Math.max(...left.map((share) => 1 - share)), ...edges.map(() => 0.2), 0);
  return {
    id: 'tone',
    name: 'Tone',
    reading: told.length === 0 ? 'no fading seen' : told.slice(0, 2).join(', '),
    detail: `${told.length > 2 ? `${told.slice(2).join(', ')}; ` : ''}told by the white of its border and its darkest place`,
    severity: graded(most, 0.12, 0.25, 0.45),
    confidence: 0.7,
  };
}

function fieldFinding(m: Measurements, f: FieldVerdict, info: StreamInfo): Finding {
  const order = m.fieldOrder === 'bottom-first' ? 'bottom field first' : 'top field first';
  const reading = {
    progressive: 'progressive',
    interlaced: `interlaced, ${order}`,
    telecined: `telecined, ${order}`,
    unknown: info.fieldOrder === 'progressive' ? 'too still to tell' : `too still to tell; tagged ${order}`,
  }[f.scan];
  return {
    id: 'fields',
    name: 'Fields',
    reading,
    detail:
      f.scan === 'unknown'
        ? 'nothing moves in the frames looked at'
        : `${sureness(m.scanConfidence)}: ${f.combed} of ${f.judged} moving frames comb`,
    severity: f.scan === 'interlaced' || f.scan === 'telecined' ? 'strong' : 'none',
    confidence: m.scanConfidence,
  };
}
