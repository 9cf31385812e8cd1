import { randomUUID } from 'node:crypto';
import type { ConditionReport } from '../condition/report';
import type { StreamInfo } from '../picture/picture';
import { treatment } from '../treatments/register';
import { readSettings } from '../treatments/setting';
import { PlanError, type Treatment } from '../treatments/treatment';
import { proposalOf, type Plan, type PlanStep } from './plan';

/** One step of a template. */
export interface TemplateStep {
  treatment: string;
  /** Switched on, off, or as each item's measurements say. */
  on: boolean | 'measured';
  /** Settings that are the same for every item; all others are measured anew on each, or are the treatment's own. */
  settings: Record<string, unknown>;
}

/** A plan for a kind of source: what is fixed in it and what is measured anew on each item. */
export interface PlanTemplate {
  format: 'wairetic-template';
  version: 1;
  name: string;
  /** The kind of source it is for, and what it does, in words. */
  about: string;
  steps: TemplateStep[];
}

const MAX_STEPS = 64,
  MAX_NAME = 80,
  MAX_ABOUT = 400;

/**
 * A template from untrusted JSON.
 * @throws PlanError naming what is wrong with it.
 */
export function readTemplate(given: unknown): PlanTemplate {
  const template = given as Partial<PlanTemplate> | null;
  if (template?.format !== 'wairetic-template') throw new PlanError('This is no template: its "format" is not "wairetic-template".');
  if (template.version !== 1) throw new PlanError(`The template has version ${String(template.version)}; this program reads version 1.`);
  const { name, about = '', steps } = template;
  if (typeof name !== 'string' || !name.trim() || name.length > MAX_NAME)
    throw new PlanError(`A template has a name of up to ${MAX_NAME} letters.`);
  if (typeof about !== 'string' || about.length > MAX_ABOUT)
    throw new PlanError(`What a template is for takes up to ${MAX_ABOUT} letters.`);
  if (!Array.isArray(steps) || steps.length > MAX_STEPS) throw new PlanError(`A template holds a list of up to ${MAX_STEPS} steps.`);
  return { format: 'wairetic-template', version: 1, name: name.trim(), about: about.trim(), steps: steps.map(checkedStep) };
}

function checkedStep(raw: unknown, index: number): TemplateStep {
  const step = raw as Partial<TemplateStep> | null;
  const where = `Step ${index + 1}`;
  const kind = typeof step?.treatment === 'string' ? treatment(step.treatment) : undefined;
  if (!step || !kind) throw new PlanError(`${where}: there is no treatment "${String(step?.treatment)}".`);
  const { on, settings = {} } = step;
  if (typeof on !== 'boolean' && on !== 'measured') throw new PlanError(`${where}, ${kind.name}: "on" must be true, false or "measured".`);
  const result = readSettings(kind.settings, settings);
  if ('problems' in result) throw new PlanError(`${where}, ${kind.name}: ${result.problems.join('; ')}.`);
  const all: Record<string, unknown> = { ...result.settings };
  return { treatment: kind.id, on, settings: Object.fromEntries(Object.keys(settings).map((key) => [key, all[key]])) };
}

/** A plan as a template. @param fixed settings that stay as they are, by the step's id; all others are measured anew. */
export function templateOf(plan: Plan, name: string, about: string, fixed: Record<string, string[]>): PlanTemplate {
  const steps = plan.steps.map((step): TemplateStep => {
    const keys = fixed[step.id] ?? [];
    return { treatment: step.treatment, on: step.on, settings: Object.fromEntries(keys.map((key) => [key, step.settings[key]])) };
  });
  return readTemplate({ format: 'wairetic-template', version: 1, name, about, steps });
}

/** The template's plan for an item. Steps that do not suit its kind of picture are left out. */
export function planFromTemplate(template: PlanTemplate, report: ConditionReport, source: StreamInfo): Plan {
  let info = source;
  const steps: PlanStep[] = [];
  for (const step of template.steps) {
    const kind = treatment(step.treatment) as Treatment;
    if (!kind.suits(info)) continue;
    const proposal = proposalOf(kind, report, info);
    const measured: Record<string, unknown> = { ...new kind.settings(), ...proposal?.settings };
    const settings = { ...measured, ...step.settings };
    const on = step.on === 'measured' ? (proposal?.on ?? false) : step.on;
    steps.push({ id: randomUUID(), treatment: kind.id, on, settings, ...(proposal && { measured }) });
    if (on) info = outputOr(kind, info, settings);
  }
  return { format: 'wairetic-plan', version: 1, steps };
}

/** The stream after a step; the one before where the step cannot work, which the plan's description then says. */
function outputOr(kind: Treatment, info: StreamInfo, settings: object): StreamInfo {
  try {
    return kind.output(info, Object.assign(new kind.settings(), settings));
  } catch {
    return info;
  }
}
