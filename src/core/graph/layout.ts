import { createHash } from 'node:crypto';
import { composePlaces, SAME_PLACE, scaling, type Geometry, type Projective } from '../../shared/maps/place';
import { composeTime, sameTime, sourceFrame, type TimeMap } from '../../shared/maps/time';
import type { Mask } from '../../shared/masks/mask';
import type { StreamInfo } from '../picture/picture';
import { isFork, type Branch, type Fork, type Plan, type PlanEntry, type Span } from '../../shared/plan';
import { readyStep, type ReadyStep } from '../plan/plan';
import { PlanError } from '../treatments/treatment';

/** What a node does with its inputs. */
export type Work =
  | { kind: 'source' }
  | { kind: 'step'; step: ReadyStep; analyses: Record<string, unknown> }
  /** Steps of the cleaning networks in a row, worked at once on what lies before the first of them. */
  | { kind: 'cleaning'; steps: ReadyStep[] }
  /** Branches laid over one another: of each input, where it is seen. Without a `ground` the first input lies below all. */
  | { kind: 'join'; layers: Layer[]; ground: boolean };

/** How a branch lies over what is below. */
export interface Layer {
  /** 0 to 1. */
  opacity: number;
  mask?: Mask;
  span?: Span;
}

/** A node of a plan's graph before anything is worked: what it is, not how it is made. */
export interface LaidNode {
  /** The step's or the fork's; `SOURCE_NODE` for the source. */
  id: string;
  inputs: LaidNode[];
  /** The stream it gives. */
  stream: StreamInfo;
  /** Names all that its pictures depend on, and nothing else. */
  key: string;
  /** When its frames were seen in the source. */
  time: TimeMap;
  /** Where its pixels lie in the source. */
  geometry: Geometry;
  work: Work;
}

/** An analysis that was made: its value, and what names it among all others. */
export interface KnownAnalysis {
  hash: string;
  value: unknown;
}

/** Looks up what was measured of a node. @param key the node's. */
export type FindAnalysis = (key: string, id: string) => KnownAnalysis | undefined;

/** A plan laid out over a source. */
export interface Layout {
  source: LaidNode;
  output: LaidNode;
  /** By the ids of steps and forks that are on, and of branches, which name their last node. */
  nodes: ReadonlyMap<string, LaidNode>;
  /** Steps that rest because something they read is not measured yet: of which node, and what. */
  missing: MissingAnalysis[];
}

export interface MissingAnalysis {
  step: string;
  /** Key of the node that is to be measured. */
  key: string;
  analysis: string;
}

/** The source's own node. */
export const SOURCE_NODE = 'source';

/**
 * The nodes of a plan's steps that are switched on.
 *
 * @param key names the source among all others, such as its checksum.
 * @param find looks up analyses that steps read.
 * @throws PlanError when a step cannot work on what comes before it, or branches do not fit together.
 */
export function layOut(plan: Plan, info: StreamInfo, key = '', find: FindAnalysis = () => undefined): Layout {
  const source: LaidNode = {
    id: SOURCE_NODE,
    inputs: [],
    stream: info,
    key: hashOf(['source', key, info.fieldOrder]),
    time: sameTime(info.frames),
    geometry: () => SAME_PLACE,
    work: { kind: 'source' },
  };
  const laying: Laying = { source, nodes: new Map([[SOURCE_NODE, source]]), missing: [], find };
  const output = followed(plan.steps, source, laying);
  return { source, output, nodes: laying.nodes, missing: laying.missing };
}

/** The stream a plan gives. @throws PlanError as `layOut`. */
export const outputStream = (plan: Plan, info: StreamInfo): StreamInfo => layOut(plan, info).output.stream;

/** What is known while a plan is laid out. */
interface Laying {
  source: LaidNode;
  nodes: Map<string, LaidNode>;
  missing: MissingAnalysis[];
  find: FindAnalysis;
}

/** Nodes of entries in a row. @returns the last. */
function followed(entries: PlanEntry[], from: LaidNode, laying: Laying): LaidNode {
  let last = from;
  for (const entry of entries) {
    if (!entry.on) continue;
    last = isFork(entry) ? joined(entry, last, laying) : stepNode(readyStep(entry), last, laying);
    laying.nodes.set(entry.id, last);
  }
  return last;
}

const hashOf = (parts: unknown[]): string => createHash('sha256').update(JSON.stringify(parts)).digest('hex');

function stepNode(step: ReadyStep, input: LaidNode, { source, missing, find }: Laying): LaidNode {
  const { treatment, settings, mask, span, marks } = step;
  if (!treatment.suits(input.stream)) throw new PlanError(`${treatment.name} does not work on this kind of picture.`);
  const stream = treatment.output(input.stream, settings);
  const own = treatment.time?.(settings, input.stream);
  const time = own ? composeTime(own, input.time) : input.time;
  const from = (n: number): number => (own ? sourceFrame(own, n) : n);
  const geometry = (n: number): Projective => composePlaces(input.geometry(from(n)), ownPlace(step, input.stream, stream, n));
  const wanted = [
    ...(treatment.reads?.(settings, input.stream) ?? []).map((id) => ({ id, of: input.key })),
    ...(treatment.readsOfSource?.(settings, input.stream) ?? []).map((id) => ({ id, of: source.key })),
  ];
  const read = wanted.map(({ id, of }) => ({ id, of, known: find(of, id) }));
  const absent = read.filter(({ known }) => !known);
  missing.push(...absent.map(({ id, of }) => ({ step: step.id, key: of, analysis: id })));
  // A step that cannot read what it needs rests, if the picture may stay as it is.
  if (absent.length && treatment.inPlace) return input;
  const hashes = read.map(({ id, known }) => [id, known?.hash ?? null]);
  const key = hashOf([treatment.id, treatment.version, settings, mask ?? null, span ?? null, marks ?? null, hashes, input.key]);
  const analyses = Object.fromEntries(read.map(({ id, known }) => [id, known?.value]));
  return { id: step.id, inputs: [input], stream, key, time, geometry, work: { kind: 'step', step, analyses } };
}

/** Where the step's output lies in its input. */
function ownPlace({ treatment, settings }: ReadyStep, input: StreamInfo, output: StreamInfo, n: number): Projective {
  if (treatment.geometry) return treatment.geometry(settings, input, n);
  if (input.width === output.width && input.height === output.height) return SAME_PLACE;
  return scaling(input.width / output.width, input.height / output.height);
}

function joined(fork: Fork, from: LaidNode, laying: Laying): LaidNode {
  const branches = fork.branches.filter((b) => b.on);
  const ends = branches.map((branch) => {
    const end = followed(branch.steps, from, laying);
    laying.nodes.set(branch.id, end);
    return end;
  });
  if (ends.length === 0) return from;
  const covers = coversAll(branches[0]);
  const inputs = covers ? ends : [from, ...ends];
  const [first, ...others] = inputs;
  for (const [n, other] of others.entries()) checkAlike(first, other, branches[covers ? n + 1 : n]);
  // Where one of them has colours, all of them have planes for some.
  const { planes, chromaShiftX, chromaShiftY } = (inputs.find((i) => i.stream.planes === 3) ?? ends[0]).stream;
  const stream = { ...ends[0].stream, planes, chromaShiftX, chromaShiftY, depth: Math.max(...inputs.map((i) => i.stream.depth)) };
  const layers = branches.map(({ opacity, mask, span }): Layer => ({
    opacity: opacity / 100,
    ...(mask && { mask }),
    ...(span && { span }),
  }));
  const key = hashOf(['join', layers, ...inputs.map((i) => i.key)]);
  return { id: fork.id, inputs, stream, key, time: first.time, geometry: first.geometry, work: { kind: 'join', layers, ground: !covers } };
}

const coversAll = ({ opacity, mask, span }: Branch): boolean => opacity === 100 && !mask && !span;

/** @throws PlanError where two pictures cannot be laid over one another. */
function checkAlike(a: LaidNode, b: LaidNode, { name }: Branch): void {
  const [s, t] = [a.stream, b.stream];
  if (s.width !== t.width || s.height !== t.height)
    throw new PlanError(
      `"${name}" gives ${t.width} × ${t.height} px and lies over ${s.width} × ${s.height} px: what changes the size comes before or after the fork.`,
    );
  if (JSON.stringify(a.time) !== JSON.stringify(b.time) || s.fieldOrder !== t.fieldOrder)
    throw new PlanError(`"${name}" changes the running time or the rate: that comes before or after the fork.`);
  const bothColoured = s.planes === 3 && t.planes === 3;
  const shape = ({ chromaShiftX, chromaShiftY, colour }: StreamInfo): string =>
    JSON.stringify([colour, ...(bothColoured ? [chromaShiftX, chromaShiftY] : [])]);
  if (shape(s) !== shape(t)) throw new PlanError(`"${name}" changes how colours are kept: that comes before or after the fork.`);
  for (const n of [0, s.frames - 1]) {
    if (a.geometry(n).some((v, i) => Math.abs(v - b.geometry(n)[i]) > 1e-9))
      throw new PlanError(`"${name}" shows another part of the picture than what it lies over: that comes before or after the fork.`);
  }
}

/** Whether a step or a branch held to a stretch of time has no say at frame `n` of a node. */
export const restsAt = (span: Span | undefined, time: TimeMap, n: number): boolean => {
  if (!span) return false;
  const frame = sourceFrame(time, n);
  return frame < span.first || frame > span.last;
};
