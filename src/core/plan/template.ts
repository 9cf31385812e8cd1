import { randomUUID } from 'node:crypto';
import type { ConditionReport } from '../condition/report';
import type { StreamInfo } from '../picture/picture';
import { treatment } from '../treatments/register';
import { PlanError, type Treatment } from '../treatments/treatment';
import { emptyPlan, isFork, type Plan, type PlanEntry } from '../../shared/plan';
import { checkedSettings, proposalOf } from './plan';

/** One step of a template. */
export interface TemplateStep {
  treatment: string;
  /** Switched on, off, or as each item's measurements say. */
  on: boolean | 'measured';
  /** Settings that are the same for every item; all others are measured anew on each, or are the treatment's own. */
  settings: Record<string, unknown>;
}

/** A fork of a template. */
export interface TemplateFork {
  on: boolean;
  branches: TemplateBranch[];
}

export interface TemplateBranch {
  name: string;
  /** Masks belong to an item: a branch that had one comes switched off. */
  on: boolean;
  opacity: number;
  steps: TemplateEntry[];
}

export type TemplateEntry = TemplateStep | TemplateFork;

export const isTemplateFork = (entry: TemplateEntry): entry is TemplateFork => 'branches' in entry;

/** A plan for a kind of source: what is fixed in it and what is measured anew on each item. */
export interface PlanTemplate {
  format: 'wairetic-template';
  version: 1;
  name: string;
  /** The kind of source it is for, and what it does, in words. */
  about: string;
  steps: TemplateEntry[];
}

/** Most entries of a list, branches of a fork, forks within one another, and letters. */
const MAX_STEPS = 64,
  MAX_BRANCHES = 8,
  MAX_FORK_DEPTH = 3,
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
  return { format: 'wairetic-template', version: 1, name: name.trim(), about: about.trim(), steps: checkedEntries(steps, '', 0) };
}

/** @param prefix names the branch the list belongs to, with a comma; empty for the template itself. */
function checkedEntries(steps: unknown, prefix: string, depth: number): TemplateEntry[] {
  if (!Array.isArray(steps) || steps.length > MAX_STEPS)
    throw new PlanError(`${prefix}A template holds a list of up to ${MAX_STEPS} steps.`);
  return steps.map((raw: unknown, index) => {
    const where = `${prefix}Step ${index + 1}`;
    return typeof raw === 'object' && raw !== null && 'branches' in raw ? checkedFork(raw, where, depth) : checkedStep(raw, where);
  });
}

function checkedFork(raw: object, where: string, depth: number): TemplateFork {
  const { on, branches } = raw as Partial<TemplateFork>;
  if (typeof on !== 'boolean') throw new PlanError(`${where}, fork: "on" must be true or false.`);
  if (depth >= MAX_FORK_DEPTH || !Array.isArray(branches) || branches.length < 1 || branches.length > MAX_BRANCHES)
    throw new PlanError(`${where}: a fork has up to ${MAX_BRANCHES} branches and lies up to ${MAX_FORK_DEPTH} deep.`);
  return { on, branches: branches.map((b: unknown, n) => checkedBranch(b, `${where}, branch ${n + 1}`, depth)) };
}

function checkedBranch(raw: unknown, where: string, depth: number): TemplateBranch {
  const { name, on, opacity, steps } = (raw ?? {}) as Partial<TemplateBranch>;
  if (typeof name !== 'string' || !name.trim() || name.length > MAX_NAME || typeof on !== 'boolean')
    throw new PlanError(`${where}: a branch has a name, and "on" is true or false.`);
  if (typeof opacity !== 'number' || !(opacity >= 0 && opacity <= 100)) throw new PlanError(`${where}: its opacity goes from 0 to 100 %.`);
  return { name: name.trim(), on, opacity, steps: checkedEntries(steps, `${where}, `, depth + 1) };
}

function checkedStep(raw: unknown, where: string): TemplateStep {
  const step = raw as Partial<TemplateStep> | null;
  const kind = typeof step?.treatment === 'string' ? treatment(step.treatment) : undefined;
  if (!step || !kind) throw new PlanError(`${where}: there is no treatment "${String(step?.treatment)}".`);
  const { on, settings = {} } = step;
  if (typeof on !== 'boolean' && on !== 'measured') throw new PlanError(`${where}, ${kind.name}: "on" must be true, false or "measured".`);
  const all = checkedSettings(kind, settings, where);
  return { treatment: kind.id, on, settings: Object.fromEntries(Object.keys(settings).map((key) => [key, all[key]])) };
}

/** A plan as a template. @param fixed settings that stay as they are, by the step's id; all others are measured anew. */
export function templateOf(plan: Plan, name: string, about: string, fixed: Record<string, string[]>): PlanTemplate {
  const kept = (entries: PlanEntry[]): TemplateEntry[] =>
    entries.map((entry) => {
      if (isFork(entry)) {
        const branches = entry.branches.map((b) => ({
          name: b.name,
          on: b.on && !b.mask && !b.span,
          opacity: b.opacity,
          steps: kept(b.steps),
        }));
        return { on: entry.on, branches };
      }
      const keys = fixed[entry.id] ?? [];
      return { treatment: entry.treatment, on: entry.on, settings: Object.fromEntries(keys.map((key) => [key, entry.settings[key]])) };
    });
  return readTemplate({ format: 'wairetic-template', version: 1, name, about, steps: kept(plan.steps) });
}

/** The template's plan for an item. Steps that do not suit its kind of picture are left out. */
export const planFromTemplate = (template: PlanTemplate, report: ConditionReport, source: StreamInfo): Plan =>
  emptyPlan(measuredEntries(template.steps, report, source).entries);

/** @returns the entries as measured, and the stream after them. */
function measuredEntries(given: TemplateEntry[], report: ConditionReport, source: StreamInfo): { entries: PlanEntry[]; info: StreamInfo } {
  let info = source;
  const entries: PlanEntry[] = [];
  for (const entry of given) {
    if (isTemplateFork(entry)) {
      const before = info;
      const branches = entry.branches.map((branch) => {
        const own = measuredEntries(branch.steps, report, before);
        if (entry.on && branch.on) info = own.info;
        return { ...branch, id: randomUUID(), steps: own.entries };
      });
      entries.push({ id: randomUUID(), on: entry.on, branches });
      continue;
    }
    const kind = treatment(entry.treatment) as Treatment;
    if (!kind.suits(info)) continue;
    const proposal = proposalOf(kind, report, info);
    const measured: Record<string, unknown> = { ...new kind.settings(), ...proposal?.settings };
    const settings = { ...measured, ...entry.settings };
    const on = entry.on === 'measured' ? (proposal?.on ?? false) : entry.on;
    entries.push({ id: randomUUID(), treatment: kind.id, on, settings, ...(proposal && { measured }) });
    if (on) info = outputOr(kind, info, settings);
  }
  return { entries, info };
}

/** The stream after a step; the one before where the step cannot work, which the plan's description then says. */
function outputOr(kind: Treatment, info: StreamInfo, settings: object): StreamInfo {
  try {
    return kind.output(info, Object.assign(new kind.settings(), settings));
  } catch {
    return info;
  }
}
