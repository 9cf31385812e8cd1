import { CONTACT_SHEET } from '../../shared/print';
import { linesOf } from './fonts';
import type { Page, PlacedText } from './page';

/** One picture of a contact sheet. */
export interface SheetEntry {
  /** Encoded, 8 bits, sRGB. */
  file: Buffer;
  width: number;
  height: number;
  name: string;
  /** Further lines: when, who, where. */
  told: string;
}

const A4 = { width: 210, height: 297 };
/** Millimetres: round the sheet, between pictures, of the heading, and of the lines below a picture. */
const MARGIN = 14,
  GAP = 6,
  HEAD = 18,
  CAPTION = 15;
const { columns: COLUMNS, rows: ROWS } = CONTACT_SHEET;
const PER_SHEET = COLUMNS * ROWS;
const NAME = 3,
  TOLD = 2.6;

/** Pictures of a collection in rows, with what they are called below: as many upright A4 pages as it takes. */
export function contactSheets(title: string, subtitle: string, entries: SheetEntry[]): Page[] {
  const pages = Math.max(1, Math.ceil(entries.length / PER_SHEET));
  return Array.from({ length: pages }, (_, n) => {
    const page: Page = {
      ...A4,
      pictures: [],
      texts: heading(title, subtitle, pages > 1 ? `${n + 1} of ${pages}` : ''),
      lines: [{ from: [MARGIN, MARGIN + 11], to: [A4.width - MARGIN, MARGIN + 11], width: 0.2, quiet: true }],
    };
    entries.slice(n * PER_SHEET, (n + 1) * PER_SHEET).forEach((entry, k) => place(page, entry, k));
    return page;
  });
}

function heading(title: string, subtitle: string, number: string): PlacedText[] {
  const width = A4.width - 2 * MARGIN;
  const [line] = linesOf(title, width / 6, 1, true);
  return [
    { text: line, x: MARGIN, y: MARGIN + 4, size: 6, strong: true },
    { text: [subtitle, number].filter(Boolean).join(' · '), x: MARGIN, y: MARGIN + 9, size: 3, quiet: true },
  ];
}

function place(page: Page, { file, width, height, name, told }: SheetEntry, k: number): void {
  const cell = {
    width: (A4.width - 2 * MARGIN - (COLUMNS - 1) * GAP) / COLUMNS,
    height: (A4.height - 2 * MARGIN - HEAD - (ROWS - 1) * GAP) / ROWS,
  };
  const x = MARGIN + (k % COLUMNS) * (cell.width + GAP),
    y = MARGIN + HEAD + Math.floor(k / COLUMNS) * (cell.height + GAP);
  const room = cell.height - CAPTION;
  const scale = Math.min(cell.width / width, room / height);
  const shown = { width: width * scale, height: height * scale };
  // Pictures stand on one line, so that what is written below them does too.
  page.pictures.push({ file, x: x + (cell.width - shown.width) / 2, y: y + room - shown.height, ...shown });
  let base = y + room + 4;
  const names = linesOf(name, cell.width / NAME, 2, true);
  for (const text of names) {
    page.texts.push({ text, x, y: base, size: NAME, strong: true });
    base += 3.6;
  }
  for (const text of told ? linesOf(told, cell.width / TOLD, 3 - names.length) : []) {
    page.texts.push({ text, x, y: base, size: TOLD, quiet: true });
    base += 3.2;
  }
}
