import type { Rational } from './maps/rational';

/** Width of the picture in square pixels of its own height. */
export function displayWidth(info: { width: number; pixelAspect: Rational }): number {
  return (info.width * info.pixelAspect.num) / info.pixelAspect.den;
}
