import type { Picture, StreamInfo } from '../picture/picture';
import { PictureCache } from '../plan/cache';
import { PlanRun } from '../plan/executor';
import { readPlan, readySteps, type Plan } from '../plan/plan';

export type Step = [treatment: string, settings?: Record<string, unknown>, mask?: object, span?: object];

/** A plan of steps that are all on. */
export const planOf = (...steps: Step[]): Plan =>
  readPlan({
    format: 'wairetic-plan',
    version: 1,
    steps: steps.map(([treatment, settings, mask, span]) => ({ treatment, on: true, settings, mask, span })),
  });

/** A run of such a plan over frames that are made when they are asked for, once each. */
export function runOver(info: StreamInfo, frame: (n: number) => Picture, ...steps: Step[]): PlanRun {
  const made = new Map<number, Picture>();
  const source = {
    info,
    key: 'made up',
    frame: (n: number): Promise<Picture> => {
      const picture = made.get(n) ?? frame(n);
      made.set(n, picture);
      return Promise.resolve(picture);
    },
  };
  return new PlanRun(source, readySteps(planOf(...steps)), { cache: new PictureCache(1 << 28) });
}
