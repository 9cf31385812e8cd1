/** Pixels an inch of sheets as PNG. */
export const SHEET_PPI = 200;

/** A sheet of paper as it is laid out, before it becomes a PDF or a PNG. Millimetres from the upper left corner. */
export interface Page {
  width: number;
  height: number;
  pictures: PlacedPicture[];
  texts: PlacedText[];
  lines: PlacedLine[];
}

export interface PlacedPicture {
  /** An encoded picture: JPEG or PNG, 8 bits, sRGB. */
  file: Buffer;
  x: number;
  y: number;
  width: number;
  height: number;
  /** Part of the sheet the picture is seen in; all of it when left out. */
  clip?: { x: number; y: number; width: number; height: number };
}

/** One line of text. */
export interface PlacedText {
  text: string;
  x: number;
  /** Of the base line. */
  y: number;
  /** Millimetres of an em. */
  size: number;
  strong?: boolean;
  /** Lighter than what is to be read first. */
  quiet?: boolean;
}

/** A thin line, straight. */
export interface PlacedLine {
  from: [number, number];
  to: [number, number];
  /** Millimetres. */
  width: number;
  quiet?: boolean;
}

/** Colours of what is printed: black that is not all black, and a grey that can be read. */
export const INK = '#1c1b19',
  QUIET = '#66625c';

export const MM_PER_INCH = 25.4;
export const POINTS_PER_INCH = 72;
