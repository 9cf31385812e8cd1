import { cutPicture, wholeRegion, type FieldOrder, type Picture, type StreamInfo } from '../picture/picture';
import type { FrameSource } from '../plan/executor';
import { judgeFields, type FieldVerdict } from './fields';
import { measureGrain } from './grain';
import type { ConditionReport, Finding, Measurements, Severity } from './report';
import { measureBlur } from './blur';
import { measureBars, measureBlocking, measureCoding, measureColour } from './surface';

/** Runs of consecutive frames that are looked at, and their length: two telecine cycles and one more. */
const RUNS = 4;
const RUN_LENGTH = 11;

/** Steps at the grid against others from which blocks are spoken of. */
const BLOCKS_SEEN = 1.12;

/** Quantiser step from which coding shows. */
const COARSE = 10;

/** Measured steps from so many times the told one are an earlier codec's. */
const CODED_BEFORE = 2;

const median = (values: number[]): number => {
  const sorted = [...values].sort((a, b) => a - b);
  return sorted.length ? sorted[sorted.length >> 1] : 0;
};

/**
 * Looks at a few runs of frames and says what condition they are in.
 * @param progress called with the share done, 0 to 1.
 */
export async function examine(source: FrameSource, progress: (done: number) => void = () => undefined): Promise<ConditionReport> {
  const { info } = source;
  const numbers = sampleFrames(info.frames);
  const runs: Picture[][] = [];
  const sampled = numbers.flat();
  let done = 0;
  for (const run of numbers) {
    const pictures: Picture[] = [];
    for (const n of run) {
      pictures.push(await source.frame(n, wholeRegion(info)));
      progress(++done / sampled.length);
    }
    runs.push(pictures);
  }
  const fields = info.frames > 1 ? judgeFields(runs.map((run) => run.map((p) => p.planes[0]))) : undefined;
  return { ...describe(measure(runs, info, fields, source.codedStep), fields, info), sampled };
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

function measure(runs: Picture[][], info: StreamInfo, fields: FieldVerdict | undefined, told = 0): Measurements {
  const looks = runs.flatMap((run) => (run.length > 2 ? [run[0], run[run.length >> 1]] : run.slice(0, 1)));
  const byLines = fields ? fields.scan !== 'progressive' : false;
  const still = info.frames === 1;
  const inner = still ? looks.map((p) => withoutBorder(p, MOUNT)) : looks;
  const colours = (still ? looks.map((p) => withoutBorder(p, SILVERED)) : looks).map(measureColour);
  const bars = looks.map(measureBars);
  const least = (side: 'left' | 'right' | 'top' | 'bottom'): number => Math.min(...bars.map((b) => b[side]));
  const luma = inner.map((p) => measureGrain(p.planes[0], byLines));
  const chroma = info.planes === 3 ? inner.flatMap((p) => [measureGrain(p.planes[1], byLines), measureGrain(p.planes[2], byLines)]) : [];
  const blocking = median(looks.map((p) => measureBlocking(p).ratio));
  // Without a grid that stands out, steps are texture.
  const seen = blocking < BLOCKS_SEEN ? 0 : median(looks.map(measureCoding));
  // A still's field order is of no account; an undecided clip keeps what its container says.
  const order: FieldOrder = !fields ? 'progressive' : fields.scan === 'unknown' ? info.fieldOrder : fields.order;
  return {
    scan: fields?.scan ?? 'still',
    fieldOrder: order,
    scanConfidence: fields?.confidence ?? 1,
    grainLuma: median(luma.map((g) => g.sigma)),
    grainChroma: median(chroma.map((g) => g.sigma)),
    grainSize: median(luma.map((g) => g.size)),
    grainSizeChroma: median(chroma.map((g) => g.size)),
    monochrome: colours.every((c) => c.monochrome),
    toned: colours.every((c) => c.toned),
    bars: { left: least('left'), right: least('right'), top: least('top'), bottom: least('bottom') },
    blocking,
    // What the codec tells is exact, but the picture may have come through a coarser one before.
    coding: told > 0 && seen < CODED_BEFORE * told ? told : seen,
    blur: median(looks.flatMap((p) => measureBlur(p.planes[0]) ?? [])),
  };
}

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

const sureness = (confidence: number): string => (confidence >= 0.9 ? 'sure' : confidence >= 0.7 ? 'likely' : 'uncertain');

function describe(m: Measurements, fields: FieldVerdict | undefined, info: StreamInfo): Pick<ConditionReport, 'measurements' | 'findings'> {
  const findings: Finding[] = [];
  if (fields) findings.push(fieldFinding(m, fields, info));
  const grain = graded(m.grainLuma, 1.2, 3.5, 8);
  findings.push({
    id: 'grain',
    name: 'Grain',
    reading: grain === 'none' ? 'none to speak of' : `${grain}, σ ${m.grainLuma.toFixed(1)}`,
    detail: `luma σ ${m.grainLuma.toFixed(1)}${info.planes === 3 ? `, chroma σ ${m.grainChroma.toFixed(1)}` : ''} on the scale to 255${grain !== 'none' && m.grainSize > 0 ? `; size ${m.grainSize.toFixed(1)} px` : ''}`,
    severity: grain,
    confidence: 0.8,
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
  const coarse = m.coding >= COARSE;
  const blocks = graded(m.blocking, BLOCKS_SEEN, 1.5, 2.5);
  findings.push({
    id: 'compression',
    name: 'Compression',
    reading: blocks !== 'none' ? `blocks ${blocks}` : coarse ? 'coarse, no blocks seen' : 'no blocks seen',
    detail: `steps at the 8 × 8 grid ${m.blocking.toFixed(2)} times those elsewhere${m.coding ? `; quantiser step about ${m.coding.toFixed(0)}` : ''}`,
    severity: blocks === 'none' && coarse ? 'slight' : blocks,
    confidence: 0.75,
  });
  const soft = graded(m.blur, 0.5, 0.9, 1.5);
  findings.push({
    id: 'focus',
    name: 'Focus',
    reading: soft === 'none' ? 'sharp' : `${soft} softness, ${m.blur.toFixed(1)} px`,
    detail: 'width of the sharpest edges; lens, scanner and motion together',
    severity: soft,
    confidence: 0.6,
  });
  return { measurements: m, findings };
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
