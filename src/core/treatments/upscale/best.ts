import type { FineStart } from '../../kernels/enlarge';
import { clean } from '../../networks/clean';
import { enlargeLuma } from '../../networks/enlarge';
import type { Content, Enlarging } from '../../networks/model';
import type { Picture, Region, StreamInfo } from '../../picture/picture';

/** What the network is told, see `UpscaleSettings`. */
export interface BestOptions {
  content: Content;
  grain: number;
  coding: number;
  blur: number;
}

/** The network that enlarges: films need the faster one, and crisp drawings among stills lose by its rounding. */
export const enlargingFor = (content: Content, { frames }: StreamInfo): Enlarging =>
  content === 'live' && frames === 1 ? 'still' : content;

/** Factor of the network for a change of size: the nearer of 2 and 4 on a scale of ratios; none where nothing grows. */
export function nearestFactor(from: { width: number; height: number }, to: { width: number; height: number }): 2 | 4 | undefined {
  if (to.width < from.width || to.height < from.height) return undefined;
  const ratio = Math.sqrt((to.width / from.width) * (to.height / from.height));
  return ratio < 1.05 ? undefined : ratio < Math.SQRT2 * 2 ? 2 : 4;
}

/**
 * The network's enlarged luma to start from, and the picture the result has to agree with when it is reduced again: the
 * source, or, where the network was told of damage, the source without it.
 *
 * @param source covers `cover`, which is whole cells, and a border round it.
 * @throws NetworkError when the network cannot be used.
 */
export async function fineStart(
  source: Picture,
  cover: Region,
  factor: 2 | 4,
  { content, grain, coding, blur }: BestOptions,
  input: StreamInfo,
): Promise<{ fine: FineStart; cleaned: Picture }> {
  const part = { plane: source.planes[0], region: source.region, frame: input };
  const data = await enlargeLuma(part, cover, factor, enlargingFor(content, input), { grain, step: coding, blur });
  const damaged = grain > 0 || coding > 0 || blur > 0;
  const cleaned = damaged
    ? await clean(source, cover, { grainLuma: grain, grainChroma: grain, step: coding, blur, grainSize: 0 }, { luma: 1, chroma: 1 })
    : source;
  const scaled: Region = { x: cover.x * factor, y: cover.y * factor, width: cover.width * factor, height: cover.height * factor };
  return { fine: { data, region: scaled, factor }, cleaned };
}
