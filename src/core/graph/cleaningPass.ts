import { BORDER, cellsCover } from '../networks/cells';
import { clean } from '../networks/clean';
import { combined, type CleanRequest } from '../networks/steering';
import { growRegion, wholeRegion } from '../picture/picture';
import type { ReadyStep } from '../plan/plan';
import { cleanWindow, prepareMoving } from '../treatments/grain/moving';
import { stillReach } from '../treatments/grain/standing';
import { account, windowOf, type Pass, type PassContext } from './node';
import { restsAt } from './layout';
import { keepOutside, maskedRequest, maskReader, steeredRegion } from './masked';

/** Steps of the cleaning networks in a row at once: the picture before them, steered by all of them. */
export function cleaningPass(steps: ReadyStep[], context: PassContext): Pass {
  const { node, spent, goOn } = context;
  const [before] = context.inputs;
  const info = before.stream;
  const read = maskReader(context.source, node.geometry, context.painted);
  const asked = steps.map((step) => ({ step, request: step.treatment.steering?.(step.settings, info) as CleanRequest }));
  return {
    async make(n, region) {
      // Of the steps that rest at this frame the pass knows nothing.
      const awake = asked.filter(({ step }) => !restsAt(step.span, node.time, n));
      if (awake.length === 0) return { ...(await before.frame(n, region)), info: node.stream };
      const requests = awake.map(({ request }) => request);
      const cover = cellsCover(region, info);
      const steered = steeredRegion(cover, info);
      const masked = await Promise.all(
        awake.map(async ({ step: { mask }, request }) => (mask ? maskedRequest(request, steered, await read(mask, n, steered)) : request)),
      );
      const { steering, share, moving, still } = combined(masked);
      const part = moving ? wholeRegion(info) : growRegion(cover, BORDER, 2, info);
      const reach = moving ? Math.max(2, stillReach(info, still)) : 0;
      const window = await windowOf(before, n - reach, n + reach, part, goOn);
      const start = performance.now();
      const made = moving
        ? await cleanWindow(
            window,
            context.share(`${n}`, () => prepareMoving(window, combined(requests).steering)),
            cover,
            steering,
            share,
          )
        : await clean(window[0], cover, steering, share);
      const masks = awake.flatMap(({ step: { mask } }) => mask ?? []);
      const everywhere = masks.length < awake.length;
      const result = everywhere
        ? made
        : keepOutside(window[reach], made, await Promise.all(masks.map((mask) => read(mask, n, made.region))));
      account(spent, start, result.region);
      return { ...result, info: node.stream };
    },
  };
}
