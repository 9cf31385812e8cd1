/** Prints on paper: sizes in millimetres, pictures in pixels. */

/** Papers, width by height as they stand upright (ISO 216, and usual sizes of photographic prints). */
export const PAPERS = {
  '9 × 13 cm': [89, 127],
  '10 × 15 cm': [102, 152],
  '13 × 18 cm': [127, 178],
  '18 × 24 cm': [178, 240],
  '20 × 30 cm': [203, 305],
  '30 × 40 cm': [305, 406],
  '40 × 60 cm': [406, 610],
  A5: [148, 210],
  A4: [210, 297],
  A3: [297, 420],
} as const satisfies Record<string, readonly [number, number]>;
export type Paper = keyof typeof PAPERS;
export const PAPER_NAMES = Object.keys(PAPERS) as Paper[];

/** How a print is to be. */
export interface PrintOptions {
  /** Size of the print when it is cut, millimetres; it turns with the picture. */
  width: number;
  height: number;
  /** The whole picture within the print, or the print filled with it and what stands over cut away. */
  fit: 'whole' | 'fill';
  /** Millimetres the picture goes on beyond each edge, for cutting; of a print that is filled. */
  bleed: number;
  /** Paper it lies on, in the middle; none larger than it needs to be when left out. */
  paper?: Paper;
}

/** Bounds of a print's size and its bleed, millimetres. */
export const PRINT_LIMITS = { smallest: 20, largest: 2000, bleed: 20 } as const;

export const FIRST_PRINT: PrintOptions = { width: 305, height: 406, fit: 'whole', bleed: 0 };

interface Size {
  width: number;
  height: number;
}
export interface Box extends Size {
  x: number;
  y: number;
}

/** Where everything lies on the sheet, in millimetres from its upper left corner. */
export interface PrintLayout {
  sheet: Size;
  /** The print as it is when cut. */
  trim: Box;
  /** The picture, which is cut off beyond `bleed` round the trim. */
  picture: Box;
  bleed: number;
  /** Pixels an inch. */
  resolution: number;
}

/** Millimetres beyond the bleed where cutting marks stand. */
const MARKS = 8;
const MM = 25.4;

/**
 * Lays a picture out as a print.
 * @throws RangeError when the print does not fit on its paper.
 */
export function layOutPrint(picture: Size, { width, height, fit, bleed: asked, paper }: PrintOptions): PrintLayout {
  const turned = (picture.height - picture.width) * (height - width) < 0;
  const trim = turned ? { width: height, height: width } : { width, height };
  const bleed = fit === 'fill' ? asked : 0;
  const to = { width: trim.width + 2 * bleed, height: trim.height + 2 * bleed };
  const across = to.width / picture.width,
    down = to.height / picture.height;
  const scale = fit === 'fill' ? Math.max(across, down) : Math.min(across, down);
  const margin = bleed > 0 ? bleed + MARKS : 0;
  let sheet = { width: trim.width + 2 * margin, height: trim.height + 2 * margin };
  if (paper) {
    const [short, long] = PAPERS[paper];
    sheet = trim.width > trim.height ? { width: long, height: short } : { width: short, height: long };
    if (to.width > sheet.width + 0.5 || to.height > sheet.height + 0.5)
      throw new RangeError(`A print of ${sizeText(trim)}${bleed ? ` with ${bleed} mm of bleed` : ''} does not fit on ${paper}.`);
  }
  const centred = (size: Size): Box => ({ x: (sheet.width - size.width) / 2, y: (sheet.height - size.height) / 2, ...size });
  return {
    sheet,
    trim: centred(trim),
    picture: centred({ width: picture.width * scale, height: picture.height * scale }),
    bleed,
    resolution: MM / scale,
  };
}

/** A size in centimetres. */
export const sizeText = ({ width, height }: Size): string => `${centimetres(width)} × ${centimetres(height)} cm`;
const centimetres = (mm: number): string => String(Math.round(mm) / 10);

/** Pixels an inch below which a print held in the hand looks soft, and those it is well with. */
const SOFT = 220,
  WELL = 280;

/** What is to be said of a print's resolution; nothing where pixels suffice. */
export function printAdvice({ resolution, trim }: PrintLayout): string | undefined {
  if (resolution >= SOFT) return undefined;
  const factor = [2, 3, 4].find((f) => f * resolution >= WELL);
  const help = factor ? `Upscale ${factor}x` : 'Upscale 4x still leaves it soft: choose a smaller print';
  return `${Math.floor(resolution)} px/in at ${sizeText(trim)}: ${help}`;
}

/** How pictures stand on a page of a contact sheet. */
export const CONTACT_SHEET = { columns: 4, rows: 5 } as const;
