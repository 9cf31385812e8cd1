import type { Rect } from '../parts/api';
import type { Placement, Size } from './geometry';

/** From this many screen pixels to a picture's pixel on, pixels are shown as they are. */
const PIXELS_SHOW = 3;

export interface Drawn {
  bitmap: ImageBitmap;
  /** Fractions of the output. */
  place: Rect;
  /** Share the source does not support, where the evidence map is shown. */
  invented?: number;
}

/** Draws one picture where it lies, inside `clip`. */
function draw(context: CanvasRenderingContext2D, drawn: Drawn, at: Placement, clip: Rect): void {
  const x = at.x + drawn.place.x * at.width,
    y = at.y + drawn.place.y * at.height;
  const width = drawn.place.width * at.width,
    height = drawn.place.height * at.height;
  context.save();
  context.beginPath();
  context.rect(clip.x, clip.y, clip.width, clip.height);
  context.clip();
  context.beginPath();
  context.rect(at.x, at.y, at.width, at.height);
  context.clip();
  context.imageSmoothingEnabled = width / drawn.bitmap.width < PIXELS_SHOW;
  context.imageSmoothingQuality = 'high';
  context.drawImage(drawn.bitmap, x, y, width, height);
  context.restore();
}

export interface Panes {
  /** Where each role's picture lies on the canvas, and what part of the canvas it may use. */
  source?: { at: Placement; clip: Rect };
  result?: { at: Placement; clip: Rect };
}

export function paint(
  canvas: HTMLCanvasElement,
  surround: string,
  panes: Panes,
  source: Drawn | undefined,
  result: Drawn | undefined,
): void {
  const context = canvas.getContext('2d');
  if (!context) return;
  context.fillStyle = surround;
  context.fillRect(0, 0, canvas.width, canvas.height);
  if (panes.source && source) draw(context, source, panes.source.at, panes.source.clip);
  if (panes.result && result) draw(context, result, panes.result.at, panes.result.clip);
}

/** Rectangle of canvas pixels. */
export const area = (x: number, y: number, width: number, height: number): Rect => ({ x, y, width, height });

/** Blank between the two pictures of a pair, in canvas pixels. */
const GAP = 4;

/** The panes of a way of comparing; `holding` puts the source where the result was. */
export function panesFor(
  mode: 'split' | 'pair' | 'single',
  holding: boolean,
  split: number,
  canvas: Size,
  place: (room: Size) => Placement,
): Panes {
  const whole = area(0, 0, canvas.width, canvas.height);
  if (mode === 'pair') {
    const half = (canvas.width - GAP) / 2;
    const at = place({ width: half, height: canvas.height });
    const right = { at: { ...at, x: at.x + half + GAP }, clip: area(half + GAP, 0, half, canvas.height) };
    const left = { at, clip: area(0, 0, half, canvas.height) };
    return { source: left, result: right };
  }
  const at = place(canvas);
  if (holding) return { source: { at, clip: whole } };
  if (mode === 'single') return { result: { at, clip: whole } };
  const line = Math.round(split * canvas.width);
  return { source: { at, clip: area(0, 0, line, canvas.height) }, result: { at, clip: area(line, 0, canvas.width - line, canvas.height) } };
}

/** Size of the room one picture has. */
export const roomFor = (mode: 'split' | 'pair' | 'single', canvas: Size): Size =>
  mode === 'pair' ? { width: (canvas.width - GAP) / 2, height: canvas.height } : canvas;
