import type { PrintLayout } from '../../shared/print';
import type { Page, PlacedLine } from './page';

/** Length of a cutting mark and its distance from the bleed, millimetres, and its width. */
const MARK = 5,
  APART = 2,
  HAIR = 0.1;

/** A print as a page: the picture cut off at its bleed, and marks where it is to be cut. @param file the picture, encoded. */
export function printPage({ sheet, trim, picture, bleed }: PrintLayout, file: Buffer): Page {
  const clip = { x: trim.x - bleed, y: trim.y - bleed, width: trim.width + 2 * bleed, height: trim.height + 2 * bleed };
  return { ...sheet, pictures: [{ file, ...picture, clip }], texts: [], lines: bleed > 0 ? marks(trim, bleed) : [] };
}

function marks({ x, y, width, height }: PrintLayout['trim'], bleed: number): PlacedLine[] {
  const near = bleed + APART,
    far = near + MARK;
  const lines: PlacedLine[] = [];
  for (const [cx, sx] of [
    [x, -1],
    [x + width, 1],
  ])
    for (const [cy, sy] of [
      [y, -1],
      [y + height, 1],
    ])
      lines.push(
        { from: [cx + sx * near, cy], to: [cx + sx * far, cy], width: HAIR },
        { from: [cx, cy + sy * near], to: [cx, cy + sy * far], width: HAIR },
      );
  return lines;
}
