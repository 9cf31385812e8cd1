import { BORDER } from '../../networks/cells';
import { clean } from '../../networks/clean';
import { most, type Share, type Steering } from '../../networks/steering';
import { cleanMoving, TEMPORAL_FRAMES, type Moving } from '../../networks/temporal';
import { copyPicture, growRegion, type Picture, type Region } from '../../picture/picture';
import { alignedWindow, neighboursOf } from './align';
import { shrinkPicture } from './fast';
import { averageStanding, leveledStrength, stillShares, type Stilled } from './standing';

/** What all parts of one frame share. */
export interface Prepared extends Moving, Stilled {}

/** @param window five frames, or more that help where nothing moves. */
export function prepareMoving(window: Picture[], steering: Steering): Prepared {
  const grains = {
    luma: most(steering.grainLuma),
    chroma: most(steering.grainChroma),
    size: most(steering.grainSize),
    chromaSize: 0,
    step: most(steering.step),
    keep: 0,
  };
  const stilled = averageStanding(window, TEMPORAL_FRAMES, grains);
  const near = neighboursOf(stilled.window, stilled.levels);
  const fast = shrinkPicture(stilled.window, grains, true, { near, levels: stilled.levels });
  return { ...stilled, frames: alignedWindow(stilled.window, near), fast };
}

/**
 * The middle picture of a window, cleaned with the help of the others. The network looks at 4:2:0; finer chroma is cleaned
 * frame by frame.
 *
 * @param prepared of the same window and steering.
 * @throws NetworkError when a network cannot be used.
 */
export async function cleanWindow(
  window: Picture[],
  prepared: Prepared,
  cover: Region,
  steering: Steering,
  share: Share,
): Promise<Picture> {
  const { levels } = prepared;
  const original = window[(window.length - 1) / 2];
  if (!levels) return cleanMiddle(original, prepared, cover, steering, share);
  const part = growRegion(cover, BORDER, 2, original.info);
  const left = {
    ...steering,
    grainLuma: leveledStrength(steering.grainLuma, levels, original.info, part),
    grainChroma: leveledStrength(steering.grainChroma, levels, original.info, part),
  };
  const whole = { luma: share.luma > 0 ? 1 : 0, chroma: share.chroma > 0 ? 1 : 0 };
  const made = await cleanMiddle(prepared.window[(TEMPORAL_FRAMES - 1) / 2], prepared, cover, left, whole);
  // What is kept is kept of the frame as it came, which was not averaged.
  const came = copyPicture(original, made.region);
  const plain = copyPicture({ ...original, planes: prepared.fast }, made.region);
  const planes = made.planes.map((plane, index) => {
    const amount = index ? share.chroma : share.luma;
    if (amount === 0) return { ...plane, data: came.planes[index].data };
    const still = stillShares(levels, original, made.region, index);
    const from = came.planes[index].data,
      fast = plain.planes[index].data;
    return { ...plane, data: plane.data.map((v, i) => from[i] + Math.round(amount * (v + still[i] * (fast[i] - v) - from[i]))) };
  });
  return { ...made, planes };
}

async function cleanMiddle(middle: Picture, prepared: Moving, cover: Region, steering: Steering, share: Share): Promise<Picture> {
  const { chromaShiftX, chromaShiftY } = middle.info;
  if (middle.planes.length === 1 || (chromaShiftX === 1 && chromaShiftY === 1))
    return cleanMoving(middle, prepared, cover, steering, share);
  const luma = (planes: Picture['planes']): Picture['planes'] => planes.slice(0, 1);
  const made = await cleanMoving(
    { ...middle, planes: luma(middle.planes) },
    { frames: prepared.frames.map(luma), fast: luma(prepared.fast) },
    cover,
    steering,
    share,
  );
  const coloured = share.chroma > 0 ? await clean(middle, cover, steering, share) : copyPicture(middle, cover);
  return { ...made, planes: [...made.planes, ...coloured.planes.slice(1)] };
}
