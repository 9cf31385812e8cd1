import { randomUUID } from 'node:crypto';
import { anchorMasks, readFormerMask } from './former';
import { readMask, type Mask } from '../../shared/masks/mask';
import type { StreamInfo } from '../picture/picture';
import { treatment } from '../treatments/register';
import { PlanError, type Treatment } from '../treatments/treatment';
import { emptyPlan, type Branch, type Fork, type Plan, type PlanEntry, type PlanStep, type Span } from '../../shared/plan';
import { checkedSettings } from './plan';

/** Largest plan taken from outside: entries of one list, branches of one fork, forks within forks. */
const MAX_STEPS = 64,
  MAX_BRANCHES = 8,
  MAX_DEPTH = 3;

/** Longest name of a branch. */
const MAX_NAME = 80;

/** What is known while a plan is read. */
interface Reading {
  /** Ids that are taken. */
  taken: Set<string>;
  mask(given: unknown): { mask: Mask } | { problems: string[] };
}

/**
 * A plan from untrusted JSON.
 *
 * @param source the item's stream. Masks of plans of version 1 lay in the frame of their step; by it they are brought into the source.
 * @throws PlanError naming the step and what is wrong with it.
 */
export function readPlan(given: unknown, source?: StreamInfo): Plan {
  const plan = given as { format?: unknown; version?: unknown; steps?: unknown } | null;
  if (plan?.format !== 'wairetic-plan') throw new PlanError('This is no plan: its "format" is not "wairetic-plan".');
  if (plan.version !== 1 && plan.version !== 2)
    throw new PlanError(`The plan has version ${String(plan.version)}; this program reads versions 1 and 2.`);
  const former = plan.version === 1;
  const steps = readEntries(plan.steps, '', 0, { taken: new Set(), mask: former ? readFormerMask : readMask });
  return former && source ? anchorMasks(emptyPlan(steps), source) : emptyPlan(steps);
}

/** @param prefix names what the list belongs to, with a comma; empty for the plan itself. */
function readEntries(given: unknown, prefix: string, depth: number, reading: Reading): PlanEntry[] {
  if (!Array.isArray(given) || given.length > MAX_STEPS) throw new PlanError(`${prefix}A plan holds a list of up to ${MAX_STEPS} steps.`);
  return given.map((raw: unknown, index) => {
    const where = `${prefix}Step ${index + 1}`;
    return typeof raw === 'object' && raw !== null && 'branches' in raw
      ? readFork(raw, where, depth, reading)
      : readStep(raw, where, reading);
  });
}

function readFork(raw: object, where: string, depth: number, reading: Reading): Fork {
  const { id, on, branches } = raw as Partial<Fork>;
  if (depth >= MAX_DEPTH) throw new PlanError(`${where}: forks lie within forks up to ${MAX_DEPTH} deep.`);
  if (typeof on !== 'boolean') throw new PlanError(`${where}, fork: "on" must be true or false.`);
  if (!Array.isArray(branches) || branches.length < 1 || branches.length > MAX_BRANCHES)
    throw new PlanError(`${where}: a fork has up to ${MAX_BRANCHES} branches.`);
  return {
    id: ownId(id, reading),
    on,
    branches: branches.map((b: unknown, n) => readBranch(b, `${where}, branch ${n + 1}`, depth, reading)),
  };
}

function readBranch(raw: unknown, where: string, depth: number, reading: Reading): Branch {
  const { id, name, on, opacity, mask, span, steps } = (raw ?? {}) as Partial<Branch>;
  if (typeof name !== 'string' || !name.trim() || name.length > MAX_NAME)
    throw new PlanError(`${where}: a branch has a name of up to ${MAX_NAME} letters.`);
  if (typeof on !== 'boolean') throw new PlanError(`${where}: "on" must be true or false.`);
  if (typeof opacity !== 'number' || !(opacity >= 0 && opacity <= 100)) throw new PlanError(`${where}: its opacity goes from 0 to 100 %.`);
  return {
    id: ownId(id, reading),
    name: name.trim(),
    on,
    opacity,
    ...(mask !== undefined && { mask: checkedMask(mask, where, reading) }),
    ...(span !== undefined && { span: checkedSpan(span, where) }),
    steps: readEntries(steps, `${where}, `, depth + 1, reading),
  };
}

function readStep(raw: unknown, where: string, reading: Reading): PlanStep {
  const step = raw as Partial<PlanStep> | null;
  const kind = typeof step?.treatment === 'string' ? treatment(step.treatment) : undefined;
  if (!step || !kind) throw new PlanError(`${where}: there is no treatment "${String(step?.treatment)}".`);
  const named = `${where}, ${kind.name}`;
  if (typeof step.on !== 'boolean') throw new PlanError(`${named}: "on" must be true or false.`);
  const { version } = step;
  if (version !== undefined && !(Number.isInteger(version) && version > 0))
    throw new PlanError(`${named}: its version is a whole number from 1.`);
  const settings = checkedSettings(kind, step.settings ?? {}, where);
  const measured = step.measured === undefined ? undefined : checkedSettings(kind, step.measured, `${where}, measured`);
  return {
    id: ownId(step.id, reading),
    treatment: kind.id,
    ...(version && { version }),
    on: step.on,
    settings,
    ...(measured && { measured }),
    ...(step.mask !== undefined && { mask: checkedMask(step.mask, named, reading, kind) }),
    ...(step.span !== undefined && { span: checkedSpan(step.span, named, kind) }),
    ...(step.marks !== undefined && { marks: checkedMarks(step.marks, named, kind) }),
  };
}

/** The id that was given, or one of its own where it is none or taken. */
function ownId(given: unknown, { taken }: Reading): string {
  const id = typeof given === 'string' && /^[\w-]{1,64}$/.test(given) && given !== 'source' && !taken.has(given) ? given : randomUUID();
  taken.add(id);
  return id;
}

function checkedMarks(given: unknown, named: string, kind: Treatment): string {
  if (!kind.marks) throw new PlanError(`${named}: it reads no hand work.`);
  if (typeof given !== 'string' || !/^[0-9a-f]{64}$/.test(given)) throw new PlanError(`${named}: hand work is named by its SHA-256.`);
  return given;
}

function checkedMask(given: unknown, named: string, reading: Reading, kind?: Treatment): Mask {
  if (kind && !kind.inPlace) throw new PlanError(`${named}: it changes the whole picture and takes no mask.`);
  const result = reading.mask(given);
  if ('problems' in result) throw new PlanError(`${named}: ${result.problems.join('; ')}.`);
  return result.mask;
}

function checkedSpan(given: unknown, named: string, kind?: Treatment): Span {
  if (kind && !kind.inPlace) throw new PlanError(`${named}: it changes the whole running time and cannot be held to a part of it.`);
  const { first, last } = (given ?? {}) as Partial<Span>;
  if (!Number.isInteger(first) || !Number.isInteger(last) || (first as number) < 0 || (last as number) < (first as number))
    throw new PlanError(`${named}: its running time goes from one frame number to a later one.`);
  return { first: first as number, last: last as number };
}
