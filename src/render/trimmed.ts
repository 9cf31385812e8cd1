import { layOut, PlanError, type StreamInfo } from '../core';
import type { Rational } from '../shared/maps/rational';
import { keptStretches, rational } from '../shared/maps/time';
import type { Plan } from '../shared/plan';

/**
 * Part of the source's running time a plan keeps, in seconds from the first frame; undefined when it keeps all. Sound, cues and chapters
 * are cut to it.
 *
 * @param part whether the source is a stretch of a longer film, from which sound and cues are always cut.
 * @throws PlanError where a plan leaves something out in the middle: no treatment does so far.
 */
export function keptTime(plan: Plan, source: StreamInfo, part = false): { start: number; duration: number } | undefined {
  if (source.frames <= 1) return undefined;
  const [kept, ...others] = keptStretches(layOut(plan, source).output.time);
  if (others.length) throw new PlanError('The plan leaves out a stretch in the middle, where the sound cannot be cut yet.');
  const seconds = ({ num, den }: Rational): number => (num * source.rate.den) / (den * source.rate.num);
  const length = rational(kept.end.num * kept.start.den - kept.start.num * kept.end.den, kept.end.den * kept.start.den);
  if (!part && kept.start.num === 0 && length.num === source.frames * length.den) return undefined;
  return { start: seconds(kept.start), duration: seconds(length) };
}
