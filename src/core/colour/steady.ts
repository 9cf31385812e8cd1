import { carryPlaces } from '../film/carry';
import type { FilmMotion } from '../film/motion';
import { invertPlace, pointAt } from '../../shared/maps/place';
import type { Colours } from './colours';
import { placesOf, type View } from './film';
import type { Tones } from './tones';

/** Codes of lightness apart at which what was carried counts a third. */
const ALIKE = 24;

/** A frame's lightness, its colours, and where it lies in the film. */
export interface ColouredFrame {
  tones: Tones;
  colours: Colours;
  view: View;
}

/**
 * A frame's colours in the mean with those of the frames beside it, along motion, so that what grain and edges do to each by itself does not flicker.
 * Where a place is lost, or has become lighter or darker, its own hold.
 */
export function steadied({ tones, colours, view }: ColouredFrame, others: readonly ColouredFrame[], motion: FilmMotion): Colours {
  const { width, height } = colours;
  const size = width * height;
  const sums = { cb: colours.cb.slice(), cr: colours.cr.slice() };
  const weights = new Float32Array(size).fill(1);
  const places = placesOf(view, width, height);
  for (const other of others) {
    const carried = carryPlaces(motion, view.seen, other.view.seen, places);
    if (!carried) continue;
    const back = invertPlace(other.view.place);
    const across = width / other.view.width,
      down = height / other.view.height;
    const { luma } = other.tones,
      { cb, cr } = other.colours;
    for (let i = 0; i < size; i++) {
      const { x, y } = pointAt(back, carried.x[i], carried.y[i]);
      const u = Math.min(width - 1, Math.max(0, x * across - 0.5)),
        v = Math.min(height - 1, Math.max(0, y * down - 0.5));
      const a = u % 1,
        b = v % 1;
      const here = (v - b) * width + (u - a);
      const beside = here + (u < width - 1 ? 1 : 0),
        below = v < height - 1 ? width : 0;
      const nw = (1 - a) * (1 - b),
        ne = a * (1 - b),
        sw = (1 - a) * b,
        se = a * b;
      const light = nw * luma[here] + ne * luma[beside] + sw * luma[here + below] + se * luma[beside + below];
      const weight = carried.sure[i] * Math.exp(-(((light - tones.luma[i]) / ALIKE) ** 2));
      weights[i] += weight;
      sums.cb[i] += weight * (nw * cb[here] + ne * cb[beside] + sw * cb[here + below] + se * cb[beside + below]);
      sums.cr[i] += weight * (nw * cr[here] + ne * cr[beside] + sw * cr[here + below] + se * cr[beside + below]);
    }
  }
  for (let i = 0; i < size; i++) {
    sums.cb[i] /= weights[i];
    sums.cr[i] /= weights[i];
  }
  return { width, height, ...sums };
}
