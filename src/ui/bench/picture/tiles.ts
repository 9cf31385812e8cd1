import type { StreamInfo } from '../../../core';
import type { Size } from './geometry';
import type { Place } from '../../../shared/maps/place';

/** Output pixels that are asked for at once; more are asked for in tiles. */
const MAX_UNTILED_PIXELS = 2_600_000;
/** Output pixels of the source alone that are asked for at once: it is only decoded. */
export const MAX_UNTILED_SOURCE = 12_000_000;
/** Side of a tile on screen, pixels. */
const SIDE = 512;

/** A part that is asked for by itself, and the most screen pixels it needs. */
export interface Wanted {
  region: Place;
  fit: Size;
}

/**
 * What has to be asked for to fill the visible part of an output: all of it at once, or, where that is much, tiles of a raster
 * fixed in the picture, so that those in view stay valid when it is moved. The nearest to the middle of the view comes first.
 * @param pixels the screen's own pixels of the visible part, of which `ratio` are one of the page's.
 * @param untiled output pixels that are not divided.
 */
export function tilesOf(visible: Place, pixels: Size, output: StreamInfo, ratio = 1, untiled = MAX_UNTILED_PIXELS): Wanted[] {
  const scale = pixels.height / ratio / (visible.height * output.height);
  if (visible.width * visible.height * output.width * output.height <= untiled) return [{ region: visible, fit: pixels }];
  // Powers of two, so that a small change of zoom keeps the raster.
  const side = SIDE * 2 ** Math.max(0, Math.floor(Math.log2(1 / scale)));
  const tw = Math.min(1, side / output.width),
    th = Math.min(1, side / output.height);
  const u = visible.x + visible.width / 2,
    v = visible.y + visible.height / 2;
  const tiles: (Wanted & { far: number })[] = [];
  for (let ty = Math.floor(visible.y / th); ty * th < visible.y + visible.height - 1e-9; ty++) {
    for (let tx = Math.floor(visible.x / tw); tx * tw < visible.x + visible.width - 1e-9; tx++) {
      const region = { x: tx * tw, y: ty * th, width: Math.min(tw, 1 - tx * tw), height: Math.min(th, 1 - ty * th) };
      if (region.width <= 1e-9 || region.height <= 1e-9) continue;
      const far = Math.hypot((region.x + region.width / 2 - u) * output.width, (region.y + region.height / 2 - v) * output.height);
      tiles.push({ region, fit: { width: SIDE * ratio, height: SIDE * ratio }, far });
    }
  }
  return tiles.sort((a, b) => a.far - b.far).map(({ region, fit }) => ({ region, fit }));
}

/** A small part round the middle of the view, a first look while the whole is computed; undefined where that would not be sooner. */
export function firstLook(visible: Place, pixels: Size): Wanted | undefined {
  if (pixels.width * pixels.height < 4 * FIRST.width * FIRST.height) return undefined;
  const width = (visible.width * FIRST.width) / pixels.width,
    height = (visible.height * FIRST.height) / pixels.height;
  return {
    region: { x: visible.x + (visible.width - width) / 2, y: visible.y + (visible.height - height) / 2, width, height },
    fit: FIRST,
  };
}

/** Screen pixels of the first look. */
const FIRST = { width: 192, height: 144 };
