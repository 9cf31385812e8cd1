import { randomUUID } from 'node:crypto';
import type { ConditionReport } from '../condition/report';
import type { Mask } from '../../shared/masks/mask';
import { emptyPlan, mapSteps, type PlainPlan, type Plan, type PlanStep, type Span } from '../../shared/plan';
import type { StreamInfo } from '../picture/picture';
import type { Quality } from '../treatments/quality';
import { treatment, TREATMENTS } from '../treatments/register';
import { readSettings, withinBounds } from '../treatments/setting';
import { PlanError, type Treatment } from '../treatments/treatment';

/** A step ready to run: its treatment and checked settings. */
export interface ReadyStep {
  id: string;
  treatment: Treatment;
  settings: object;
  mask?: Mask;
  span?: Span;
  marks?: string;
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
export function proposePlan(report: ConditionReport, source: StreamInfo): PlainPlan {
  let info = source;
  const steps: PlanStep[] = [];
  for (const kind of TREATMENTS) {
    const proposal = kind.suits(info) ? proposalOf(kind, report, info) : undefined;
    if (!proposal) continue;
    const settings = checkedSettings(kind, proposal.settings, 'Proposal');
    steps.push({ id: randomUUID(), treatment: kind.id, version: kind.version, on: proposal.on, settings, measured: settings });
    if (proposal.on) info = kind.output(info, Object.assign(new kind.settings(), settings));
  }
  return { ...emptyPlan(), steps };
}

/** @throws PlanError naming the step and what is wrong with its settings. */
export function checkedSettings(kind: Treatment, given: unknown, where: string): Record<string, unknown> {
  const result = readSettings(kind.settings, given);
  if ('problems' in result) throw new PlanError(`${where}, ${kind.name}: ${result.problems.join('; ')}.`);
  return { ...result.settings };
}

/** The plan as one that was looked at with the treatments as they are now. */
export const stamped = (plan: Plan): Plan => mapSteps(plan, (step) => ({ ...step, version: treatment(step.treatment)?.version }));

/** The plan with one quality in all steps that offer a choice. */
export const withQuality = (plan: Plan, quality: Quality): Plan =>
  mapSteps(plan, (step) => ('quality' in step.settings ? { ...step, settings: { ...step.settings, quality } } : step));

/** The plan as a first look sees it: quick, each frame by itself. */
export const draftPlan = (plan: Plan): Plan =>
  mapSteps(plan, (step) => {
    const { treatment: kind, settings } = readyStep(step);
    return kind.draft ? { ...step, settings: { ...kind.draft(settings) } } : step;
  });

/** The step as it runs. @throws PlanError where there is no such treatment. */
export function readyStep({ id, treatment: kindId, settings, mask, span, marks }: PlanStep): ReadyStep {
  const kind = treatment(kindId);
  if (!kind) throw new PlanError(`There is no treatment "${kindId}".`);
  return { id, treatment: kind, settings: Object.assign(new kind.settings(), settings), mask, span, marks };
}
