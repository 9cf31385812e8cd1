import { randomUUID } from 'node:crypto';
import type { ConditionReport } from '../condition/report';
import type { StreamInfo } from '../picture/picture';
import { readMask, type Mask } from './mask';
import type { Quality } from '../treatments/quality';
import { treatment, TREATMENTS } from '../treatments/register';
import { readSettings, withinBounds } from '../treatments/setting';
import { PlanError, type Place, type Treatment } from '../treatments/treatment';

/** One treatment in a plan. */
export interface PlanStep {
  /** Names the step within its plan, so that it can be followed while it moves. */
  id: string;
  treatment: string;
  /** Version of the treatment it was made with; plans from before there were versions have none. */
  version?: number;
  on: boolean;
  settings: Record<string, unknown>;
  /** Settings as the condition report proposed them; what differs was changed by hand. */
  measured?: Record<string, unknown>;
  /** Where it works; everywhere when left out. */
  mask?: Mask;
  /** When it works; all the time when left out. */
  span?: Span;
}

/** A stretch of running time, in frames of the source, both ends included. */
export interface Span {
  first: number;
  last: number;
}

/** The ordered treatments of an item. */
export interface Plan {
  format: 'wairetic-plan';
  version: 1;
  steps: PlanStep[];
}

/** A step ready to run: its treatment and checked settings. */
export interface ReadyStep {
  id: string;
  treatment: Treatment;
  settings: object;
  mask?: Mask;
  span?: Span;
}

/** Longest plan taken from outside. */
const MAX_STEPS = 64;

/**
 * A plan from untrusted JSON.
 * @throws PlanError naming the step and what is wrong with it.
 */
export function readPlan(given: unknown): Plan {
  const plan = given as Partial<Plan> | null;
  if (plan?.format !== 'wairetic-plan') throw new PlanError('This is no plan: its "format" is not "wairetic-plan".');
  if (plan.version !== 1) throw new PlanError(`The plan has version ${String(plan.version)}; this program reads version 1.`);
  if (!Array.isArray(plan.steps) || plan.steps.length > MAX_STEPS) throw new PlanError(`A plan holds a list of up to ${MAX_STEPS} steps.`);
  const seen = new Set<string>();
  const steps = plan.steps.map((raw: unknown, index): PlanStep => {
    const step = raw as Partial<PlanStep> | null;
    const where = `Step ${index + 1}`;
    const kind = typeof step?.treatment === 'string' ? treatment(step.treatment) : undefined;
    if (!step || !kind) throw new PlanError(`${where}: there is no treatment "${String(step?.treatment)}".`);
    if (typeof step.on !== 'boolean') throw new PlanError(`${where}, ${kind.name}: "on" must be true or false.`);
    const settings = checked(kind, step.settings ?? {}, where);
    const measured = step.measured === undefined ? undefined : checked(kind, step.measured, `${where}, measured`);
    const id = typeof step.id === 'string' && /^[\w-]{1,64}$/.test(step.id) && !seen.has(step.id) ? step.id : randomUUID();
    seen.add(id);
    const { version } = step;
    if (version !== undefined && !(Number.isInteger(version) && version > 0))
      throw new PlanError(`${where}, ${kind.name}: its version is a whole number from 1.`);
    const mask = step.mask === undefined ? undefined : checkedMask(kind, step.mask, where);
    const span = step.span === undefined ? undefined : checkedSpan(kind, step.span, where);
    return {
      id,
      treatment: kind.id,
      ...(version && { version }),
      on: step.on,
      settings,
      ...(measured && { measured }),
      ...(mask && { mask }),
      ...(span && { span }),
    };
  });
  return { format: 'wairetic-plan', version: 1, steps };
}

function checked(kind: Treatment, given: unknown, where: string): Record<string, unknown> {
  const result = readSettings(kind.settings, given);
  if ('problems' in result) throw new PlanError(`${where}, ${kind.name}: ${result.problems.join('; ')}.`);
  return { ...result.settings };
}

function checkedMask(kind: Treatment, given: unknown, where: string): Mask {
  if (!kind.inPlace) throw new PlanError(`${where}, ${kind.name}: it changes the whole picture and takes no mask.`);
  const result = readMask(given);
  if ('problems' in result) throw new PlanError(`${where}, ${kind.name}: ${result.problems.join('; ')}.`);
  return result.mask;
}

function checkedSpan(kind: Treatment, given: unknown, where: string): Span {
  if (!kind.inPlace) throw new PlanError(`${where}, ${kind.name}: it changes the whole running time and cannot be held to a part of it.`);
  const { first, last } = (given ?? {}) as Partial<Span>;
  if (!Number.isInteger(first) || !Number.isInteger(last) || (first as number) < 0 || (last as number) < (first as number))
    throw new PlanError(`${where}, ${kind.name}: its running time goes from one frame number to a later one.`);
  return { first: first as number, last: last as number };
}

/** What a treatment proposes for a report, its settings held within their bounds: material may be worse than a treatment goes. */
export function proposalOf(
  kind: Treatment,
  report: ConditionReport,
  info: StreamInfo,
): { on: boolean; settings: Record<string, unknown> } | undefined {
  const proposal = kind.propose(report, info);
  return proposal && { on: proposal.on, settings: withinBounds(kind.settings, { ...proposal.settings }) };
}

/** The plan the measurements propose, in the natural order. */
export function proposePlan(report: ConditionReport, source: StreamInfo): Plan {
  let info = source;
  const steps: PlanStep[] = [];
  for (const kind of TREATMENTS) {
    const proposal = kind.suits(info) ? proposalOf(kind, report, info) : undefined;
    if (!proposal) continue;
    const settings = checked(kind, proposal.settings, 'Proposal');
    steps.push({ id: randomUUID(), treatment: kind.id, version: kind.version, on: proposal.on, settings, measured: settings });
    if (proposal.on) info = kind.output(info, Object.assign(new kind.settings(), settings));
  }
  return { format: 'wairetic-plan', version: 1, steps };
}

/** The plan as one that was looked at with the treatments as they are now. */
export function stamped(plan: Plan): Plan {
  return { ...plan, steps: plan.steps.map((step) => ({ ...step, version: treatment(step.treatment)?.version })) };
}

/** The plan with one quality in all steps that offer a choice. */
export function withQuality(plan: Plan, quality: Quality): Plan {
  const steps = plan.steps.map((step) => ('quality' in step.settings ? { ...step, settings: { ...step.settings, quality } } : step));
  return { ...plan, steps };
}

/** The steps that are switched on, in order. */
export function readySteps(plan: Plan): ReadyStep[] {
  return plan.steps
    .filter((step) => step.on)
    .map((step) => {
      const kind = treatment(step.treatment) as Treatment;
      return {
        id: step.id,
        treatment: kind,
        settings: Object.assign(new kind.settings(), step.settings),
        mask: step.mask,
        span: step.span,
      };
    });
}

/**
 * The stream before and after each step that is switched on.
 * @throws PlanError when a step cannot work on what comes before it.
 */
export function planStreams(steps: ReadyStep[], source: StreamInfo): StreamInfo[] {
  const infos = [source];
  for (const step of steps) {
    const input = infos[infos.length - 1];
    if (!step.treatment.suits(input)) throw new PlanError(`${step.treatment.name} does not work on this kind of picture.`);
    infos.push(step.treatment.output(input, step.settings));
  }
  return infos;
}

/** Frame of the stream after `to` steps that frame `n` of the stream after `from` steps belongs to; `to` is at most `from`. */
export function frameBefore(steps: ReadyStep[], streams: StreamInfo[], n: number, from: number, to: number): number {
  let frame = n;
  for (let i = from - 1; i >= to; i--) {
    const { treatment, settings } = steps[i];
    if (treatment.frameAt) frame = treatment.frameAt(frame, settings, streams[i]);
  }
  return Math.min(streams[to].frames - 1, frame);
}

/** Where the whole frame after `after` steps lies in the plan's output, in output pixels. */
export function placeInOutput(steps: ReadyStep[], streams: StreamInfo[], after: number): Place {
  let place: Place = { x: 0, y: 0, width: streams[after].width, height: streams[after].height };
  for (let i = after; i < steps.length; i++) {
    const { treatment, settings } = steps[i];
    const input = streams[i],
      output = streams[i + 1];
    const to = treatment.place?.(settings, input) ?? { x: 0, y: 0, width: output.width, height: output.height };
    const sx = to.width / input.width,
      sy = to.height / input.height;
    place = { x: to.x + place.x * sx, y: to.y + place.y * sy, width: place.width * sx, height: place.height * sy };
  }
  return place;
}

/** What is wrong with a plan's order, in words; it still runs. */
export function planWarnings(plan: Plan, source: StreamInfo): { step: string; text: string }[] {
  const on = plan.steps.filter((s) => s.on);
  const place = (id: string): number => on.findIndex((s) => s.treatment === id);
  const warnings: { step: string; text: string }[] = [];
  const combed = source.fieldOrder !== 'progressive';
  const fields = place('deinterlace');
  for (const [index, step] of on.entries()) {
    const kind = treatment(step.treatment);
    if (kind && step.version !== undefined && step.version !== kind.version) {
      const text = `${kind.name} was looked at in version ${step.version} and is version ${kind.version} now: what it makes may differ.`;
      warnings.push({ step: step.id, text });
    }
    if (
      combed &&
      step.treatment !== 'trim' &&
      step.treatment !== 'crop' &&
      step.treatment !== 'deinterlace' &&
      (fields < 0 || index < fields)
    ) {
      warnings.push({ step: step.id, text: 'The frames are still interlaced here: combs get into the result. Put Deinterlace first.' });
    }
    if (step.treatment === 'grain' && place('regrain') >= 0 && place('regrain') < index) {
      warnings.push({ step: step.id, text: 'Grain is taken off after it was put back. Move Regrain below.' });
    }
    if (step.treatment === 'focus' && place('regrain') >= 0 && place('regrain') < index) {
      warnings.push({ step: step.id, text: 'It sharpens the grain that was put back. Move Regrain below.' });
    }
    if (step.treatment === 'compression' && place('grain') >= 0 && place('grain') < index) {
      warnings.push({ step: step.id, text: 'Blocks are harder to tell once the grain is off. Move it above Grain.' });
    }
    if (step.treatment === 'upscale' && place('regrain') >= 0 && place('regrain') < index) {
      warnings.push({ step: step.id, text: 'The grain that was put back is enlarged with the picture. Move Regrain below.' });
    }
    if (step.treatment === 'grain' && place('upscale') >= 0 && place('upscale') < index) {
      warnings.push({ step: step.id, text: 'Grain is better taken off before it is enlarged. Move it above Upscale.' });
    }
  }
  return warnings;
}
