import type { StreamInfo } from '../../../core';
import { displayWidth } from '../../../shared/display';
import { pointAt, type Place } from '../../../shared/maps/place';
import type { PlanDescription } from '../../../archive';

/** What part of the picture is looked at, and how large. The centre is kept in fractions, so it holds when a plan changes the size. */
export interface View {
  /** Screen pixels to a row of the output; `fit` shows all of it. */
  zoom: number | 'fit';
  u: number;
  v: number;
}

export interface Size {
  width: number;
  height: number;
}

/** The output's picture on a canvas, in canvas pixels; it may reach beyond it. */
export interface Placement extends Place {
  /** Screen pixels to a row of the output. */
  scale: number;
}

/** Blank kept round a picture that is fitted, in canvas pixels. */
const MARGIN = 12;
export const SMALLEST_ZOOM = 0.05;
export const LARGEST_ZOOM = 16;

/** Where the whole output lies on a canvas. A picture smaller than the canvas is centred, a larger one kept from leaving it. */
export function placePicture(output: StreamInfo, canvas: Size, view: View): Placement {
  const wide = displayWidth(output);
  const fit = Math.min((canvas.width - 2 * MARGIN) / wide, (canvas.height - 2 * MARGIN) / output.height);
  const scale = view.zoom === 'fit' ? Math.max(0.001, fit) : view.zoom;
  const width = wide * scale,
    height = output.height * scale;
  return { x: along(width, canvas.width, view.u), y: along(height, canvas.height, view.v), width, height, scale };
}

function along(size: number, room: number, centre: number): number {
  if (size <= room) return (room - size) / 2;
  return Math.min(0, Math.max(room - size, room / 2 - centre * size));
}

/** The part of the output that is on the canvas, in fractions; undefined when it is not. */
export function visiblePart(placement: Placement, canvas: Size): Place | undefined {
  const x = Math.max(0, -placement.x / placement.width),
    y = Math.max(0, -placement.y / placement.height);
  const right = Math.min(1, (canvas.width - placement.x) / placement.width),
    bottom = Math.min(1, (canvas.height - placement.y) / placement.height);
  return right > x && bottom > y ? { x, y, width: right - x, height: bottom - y } : undefined;
}

/** The fraction of the output under a canvas point. */
export function fractionAt(placement: Placement, x: number, y: number): { u: number; v: number } {
  return { u: (x - placement.x) / placement.width, v: (y - placement.y) / placement.height };
}

/** The view with another zoom and the same picture point under a canvas point. */
export function zoomAt(output: StreamInfo, canvas: Size, view: View, x: number, y: number, zoom: number): View {
  const { u, v } = fractionAt(placePicture(output, canvas, view), x, y);
  const held = Math.min(LARGEST_ZOOM, Math.max(SMALLEST_ZOOM, zoom));
  const width = displayWidth(output) * held,
    height = output.height * held;
  return { zoom: held, u: u + (canvas.width / 2 - x) / width, v: v + (canvas.height / 2 - y) / height };
}

/** The view moved by a drag of canvas pixels. */
export function panned(output: StreamInfo, canvas: Size, view: View, dx: number, dy: number): View {
  const at = placePicture(output, canvas, view);
  const centre = fractionAt(at, canvas.width / 2 - dx, canvas.height / 2 - dy);
  return { ...view, u: clamp01(centre.u), v: clamp01(centre.v) };
}

export const clamp01 = (v: number): number => Math.min(1, Math.max(0, v));

/** Height of the loupe as a share of the picture's. */
const LOUPE_HEIGHT = 0.1;

/** The loupe's part of the output in fractions: square on the display, inside the picture. */
export function loupePart(output: StreamInfo, u: number, v: number): Place {
  const height = LOUPE_HEIGHT,
    width = Math.min(1, (LOUPE_HEIGHT * output.height) / displayWidth(output));
  return { x: Math.min(1 - width, Math.max(0, u - width / 2)), y: Math.min(1 - height, Math.max(0, v - height / 2)), width, height };
}

/** Where the loupe is in the source, in fractions of it. */
export function loupeInSource({
  loupe,
  description: { geometry, output, source },
}: {
  loupe: { u: number; v: number };
  description: PlanDescription;
}): {
  u: number;
  v: number;
} {
  const { x, y } = pointAt(geometry, loupe.u * output.width, loupe.v * output.height);
  return { u: clamp01(x / source.width), v: clamp01(y / source.height) };
}
