import { sourceFrame } from '../../shared/maps/time';
import { chromaGrid, coveringBoth, cutPicture, growRegion, wholeRegion, type Picture, type Region } from '../picture/picture';
import type { LaidPicture } from '../picture/laid';
import type { ReadyStep } from '../plan/plan';
import type { ApplyContext } from '../treatments/treatment';
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
  const grid = Math.max(chromaGrid(input), needs.grid);

  /** The pictures that the treatment works a part from, and what it is told with them. */
  async function prepared(n: number, asked: Region): Promise<{ window: Picture[]; told: ApplyContext }> {
    const region = needs.whole ? wholeRegion(output) : growRegion(asked, 0, chromaGrid(output), output);
    const from = treatment.regionAt ? treatment.regionAt(region, settings, input) : region;
    const frame = time ? sourceFrame(time, n) : n;
    const seen = Array.from({ length: needs.before + 1 + needs.after }, (_, at) =>
      sourceFrame(before.time, Math.min(input.frames - 1, Math.max(0, frame - needs.before + at))),
    );
    const pictures: Record<string, LaidPicture> = {};
    for (const hash of treatment.pictures?.(settings) ?? []) pictures[hash] = await context.picture(hash);
    const work = { marks: step.marks ? await context.marks(step.marks) : [], place: before.geometry(frame), analyses, pictures, seen };
    const reached = treatment.reach?.(from, settings, input, work);
    const bordered = growRegion(from, needs.border, grid, input);
    const part = needs.whole ? wholeRegion(input) : reached ? growRegion(coveringBoth(bordered, reached), 0, grid, input) : bordered;
    const window = treatment.alone?.(from, settings, input, work)
      ? new Array<Picture>(seen.length).fill(await before.frame(frame, part))
      : await windowOf(before, frame - needs.before, frame + needs.after, part, goOn);
    // A treatment that needs no border of its own must not see more than it was asked for.
    const exact = needs.border === 0 && !needs.whole && !reached ? growRegion(from, 0, chromaGrid(input), input) : undefined;
    const share = <T>(make: () => T): T => context.share(`${id}/${frame}/${JSON.stringify(part)}`, make);
    return {
      window: exact ? window.map((p) => cutPicture(p, exact)) : window,
      told: { frame: n, region, asked, input, output, ...work, share },
    };
  }

  return {
    async make(n, region) {
      if (restsAt(span, node.time, n)) return { ...(await before.frame(n, region)), info: output };
      const { window, told } = await prepared(n, region);
      const start = performance.now();
      const made = await treatment.apply(window, settings, told);
      const result = mask ? mixPictures(window[needs.before], made, await read(mask, n, made.region)) : made;
      account(spent, start, growRegion(result.region, needs.border, 1, output));
      return { ...result, info: output };
    },
    ...(treatment.found && {
      async found(n: number, region: Region) {
        const { window, told } = await prepared(n, region);
        return treatment.found?.(window, settings, told);
      },
    }),
  };
}
