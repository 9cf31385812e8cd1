import type { Rgb } from './rgb';

/** A part of a picture, or one turned by quarters: nothing is copied, its samples are elsewhere. */
export interface RgbView extends Rgb {
  /** Where red of the first pixel is, and how far it is from there to the next one in the row, and in the column. */
  first: number;
  right: number;
  down: number;
}

export const viewOf = (picture: Rgb): RgbView => ({ ...picture, first: 0, right: 3, down: 3 * picture.width });

/** A part of a view; it lies inside. */
export const part = (view: RgbView, left: number, top: number, width: number, height: number): RgbView => ({
  ...view,
  width,
  height,
  first: view.first + left * view.right + top * view.down,
});

/** A view turned clockwise by quarters of a circle. */
export function turned(view: RgbView, quarters: number): RgbView {
  if (quarters % 4 === 0) return view;
  const { data, width, height, first, right, down } = view;
  // Its first row is what was the first column, read from below.
  const once = { data, width: height, height: width, first: first + (height - 1) * down, right: -down, down: right };
  return turned(once, (quarters % 4) - 1);
}

/** A picture of its own. */
export function copied({ data, width, height, first, right, down }: RgbView): Rgb {
  const out = new Uint8Array(3 * width * height);
  for (let y = 0, to = 0; y < height; y++)
    for (let x = 0, from = first + y * down; x < width; x++, from += right) for (let c = 0; c < 3; c++) out[to++] = data[from + c];
  return { data: out, width, height };
}
