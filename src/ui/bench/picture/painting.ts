import type { Placement, Size } from './geometry';
import type { CompareMode, SplitWay } from '../state/store';
import type { Place } from '../../../shared/maps/place';

export interface Drawn {
  bitmap: ImageBitmap;
  /** Fractions of the output. */
  place: Place;
  /** Share the source does not support, where the evidence map is shown. */
  invented?: number;
}

/** Where one picture lies on the canvas, and what part of the canvas it may use. */
export interface Pane {
  at: Placement;
  clip: Place;
}

export interface Panes {
  source?: Pane;
  result?: Pane;
}

/** Draws the parts of one picture where they lie, inside its clip. */
function draw(context: CanvasRenderingContext2D, parts: Drawn[], { at, clip }: Pane, fine: boolean): void {
  context.save();
  context.beginPath();
  context.rect(clip.x, clip.y, clip.width, clip.height);
  context.clip();
  context.beginPath();
  context.rect(at.x, at.y, at.width, at.height);
  context.clip();
  for (const { bitmap, place } of parts) {
    const width = place.width * at.width,
      height = place.height * at.height;
    const x = at.x + place.x * at.width,
      y = at.y + place.y * at.height;
    if (x > clip.x + clip.width || y > clip.y + clip.height || x + width < clip.x || y + height < clip.y) continue;
    // Above 100 % pixels are shown as they are.
    context.imageSmoothingEnabled = at.scale <= 1.001;
    context.imageSmoothingQuality = fine ? 'high' : 'low';
    context.drawImage(bitmap, x, y, width, height);
  }
  context.restore();
}

/** Draws the panes; quickly while they move, finely once they rest. */
export function paint(canvas: HTMLCanvasElement, surround: string, panes: Panes, source: Drawn[], result: Drawn[], fine: boolean): void {
  const context = canvas.getContext('2d');
  if (!context) return;
  context.fillStyle = surround;
  context.fillRect(0, 0, canvas.width, canvas.height);
  if (panes.source) draw(context, source, panes.source, fine);
  if (panes.result) draw(context, result, panes.result, fine);
}

/** Canvases beside the one on screen, made once. */
const beside: HTMLCanvasElement[] = [];

/** A picture by itself: its parts overlap, so they must be whole before it is compared. */
function drawnBeside(n: number, like: HTMLCanvasElement, parts: Drawn[], pane: Pane): HTMLCanvasElement {
  const canvas = (beside[n] ??= document.createElement('canvas'));
  canvas.width = like.width;
  canvas.height = like.height;
  const context = canvas.getContext('2d');
  if (context) {
    context.setTransform((like.getContext('2d') as CanvasRenderingContext2D).getTransform());
    draw(context, parts, pane, true);
  }
  return canvas;
}

/** Draws how far both pictures differ, `gain` times as strong; where they are the same it is black. */
export function paintDifference(
  canvas: HTMLCanvasElement,
  surround: string,
  pane: Pane,
  source: Drawn[],
  result: Drawn[],
  gain: number,
): void {
  const context = canvas.getContext('2d');
  if (!context) return;
  const difference = drawnBeside(0, canvas, source, pane);
  const work = difference.getContext('2d') as CanvasRenderingContext2D;
  work.setTransform(1, 0, 0, 1, 0, 0);
  work.globalCompositeOperation = 'difference';
  work.drawImage(drawnBeside(1, canvas, result, pane), 0, 0);
  work.globalCompositeOperation = 'source-over';
  context.fillStyle = surround;
  context.fillRect(0, 0, canvas.width, canvas.height);
  context.save();
  context.setTransform(1, 0, 0, 1, 0, 0);
  context.filter = `brightness(${gain})`;
  context.drawImage(difference, 0, 0);
  context.restore();
}

/** Rectangle of canvas pixels. */
export const area = (x: number, y: number, width: number, height: number): Place => ({ x, y, width, height });

/** Blank between the two pictures of a pair, in canvas pixels. */
const GAP = 4;

/** How the two pictures are compared. */
export interface Comparison {
  mode: CompareMode;
  /** The source is held up instead of the result. */
  holding: boolean;
  split: number;
  way: SplitWay;
}

/** The panes of a way of comparing. Where one pane shows both pictures (flicker, difference), it is given as the result's and as the source's. */
export function panesFor({ mode, holding, split, way }: Comparison, canvas: Size, place: (room: Size) => Placement): Panes {
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
  if (mode !== 'split') return { result: { at, clip: whole } };
  if (way === 'level') {
    const line = Math.round(split * canvas.height);
    return {
      source: { at, clip: area(0, 0, canvas.width, line) },
      result: { at, clip: area(0, line, canvas.width, canvas.height - line) },
    };
  }
  const line = Math.round(split * canvas.width);
  return { source: { at, clip: area(0, 0, line, canvas.height) }, result: { at, clip: area(line, 0, canvas.width - line, canvas.height) } };
}

/** Size of the room one picture has. */
export const roomFor = (mode: CompareMode, canvas: Size): Size =>
  mode === 'pair' ? { width: (canvas.width - GAP) / 2, height: canvas.height } : canvas;
