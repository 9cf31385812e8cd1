import { sourceFrame } from '../../shared/maps/time';
import { chromaGrid, cutPicture, growRegion, wholeRegion } from '../picture/picture';
import type { ReadyStep } from '../plan/plan';
import { account, windowOf, type Pass, type PassContext } from './node';
import { restsAt } from './layout';
import { maskReader, mixPictures } from './masked';

/** One treatment's work on the node before it. */
export function stepPass(step: ReadyStep, analyses: Record<string, unknown>, context: PassContext): Pass {
  const { id, treatment, settings, mask, span } = step;
  const { node, spent, goOn } = context;
  const [before] = context.inputs;
  const input = before.stream,
    output = node.stream;
  const needs = treatment.needs(settings, input);
  const time = treatment.time?.(settings, input);
  const read = maskReader(context.source, node.geometry, context.painted);
  return {
    async make(n, region) {
      if (restsAt(span, node.time, n)) return { ...(await before.frame(n, region)), info: output };
      const wanted = needs.whole ? wholeRegion(output) : growRegion(region, 0, chromaGrid(output), output);
      const from = treatment.regionAt ? treatment.regionAt(wanted, settings, input) : wanted;
      const part = needs.whole ? wholeRegion(input) : growRegion(from, needs.border, Math.max(chromaGrid(input), needs.grid), input);
      const frame = time ? sourceFrame(time, n) : n;
      const window = await windowOf(before, frame - needs.before, frame + needs.after, part, goOn);
      // A treatment that needs no border of its own must not see more than it was asked for.
      const exact =
        needs.border === 0 && !needs.whole ? window.map((p) => cutPicture(p, growRegion(from, 0, chromaGrid(input), input))) : window;
      const share = <T>(make: () => T): T => context.share(`${id}/${frame}/${JSON.stringify(part)}`, make);
      const marks = step.marks ? await context.marks(step.marks) : [];
      const start = performance.now();
      const made = await treatment.apply(exact, settings, {
        frame: n,
        region: wanted,
        asked: region,
        input,
        output,
        marks,
        analyses,
        share,
      });
      const result = mask ? mixPictures(exact[needs.before], made, await read(mask, n, made.region)) : made;
      account(spent, start, growRegion(result.region, needs.border, 1, output));
      return { ...result, info: output };
    },
  };
}
