import { PictureCache } from '../graph/cache';
import { compile, type Graph } from '../graph/graph';
import type { FrameSource, Node } from '../graph/node';
import type { Picture, StreamInfo } from '../picture/picture';
import type { PlainPlan, Plan } from '../../shared/plan';
import { readPlan } from '../plan/read';

export type Step = [treatment: string, settings?: Record<string, unknown>, mask?: object, span?: object];

/** A plan of steps that are all on. */
export const planOf = (...steps: Step[]): PlainPlan =>
  readPlan({
    format: 'wairetic-plan',
    version: 2,
    steps: steps.map(([treatment, settings, mask, span]) => ({ treatment, on: true, settings, mask, span })),
  }) as PlainPlan;

/** Frames that are made when they are asked for, once each. */
export function madeSource(info: StreamInfo, frame: (n: number) => Picture): FrameSource {
  const made = new Map<number, Picture>();
  return {
    info,
    key: 'made up',
    frame: (n: number): Promise<Picture> => {
      const picture = made.get(n) ?? frame(n);
      made.set(n, picture);
      return Promise.resolve(picture);
    },
  };
}

/** A plan's graph over frames that are made when they are asked for. */
export const graphOver = (info: StreamInfo, frame: (n: number) => Picture, plan: Plan): Graph =>
  compile(plan, madeSource(info, frame), { cache: new PictureCache(1 << 28) });

/** What a plan of steps that are all on gives. */
export const runOver = (info: StreamInfo, frame: (n: number) => Picture, ...steps: Step[]): Node =>
  graphOver(info, frame, planOf(...steps)).output;

/** The nodes of a plan's own steps, in order; a step that is off gives the output. */
export const stepNodes = (graph: Graph, plan: Plan): Node[] => plan.steps.map(({ id }) => graph.node(id) ?? graph.output);
