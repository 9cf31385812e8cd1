import { clean } from '../../networks/clean';
import { most, type Share, type Steering } from '../../networks/steering';
import { cleanMoving, type Moving } from '../../networks/temporal';
import { copyPicture, type Picture, type Region } from '../../picture/picture';
import { alignedWindow, neighboursOf } from './align';
import { shrinkPicture } from './fast';

/** What all parts of one frame share. */
export function prepareMoving(window: Picture[], steering: Steering): Moving {
  const near = neighboursOf(window);
  const grains = {
    luma: most(steering.grainLuma),
    chroma: most(steering.grainChroma),
    size: most(steering.grainSize),
    chromaSize: 0,
    keep: 0,
  };
  return { frames: alignedWindow(window, near), fast: shrinkPicture(window, grains, true, near) };
}

/**
 * The middle picture of five, cleaned with the help of the others. The network looks at 4:2:0; finer chroma is cleaned
 * frame by frame.
 *
 * @param prepared of the same window and steering.
 * @throws NetworkError when a network cannot be used.
 */
export async function cleanWindow(window: Picture[], prepared: Moving, cover: Region, steering: Steering, share: Share): Promise<Picture> {
  const middle = window[2];
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
