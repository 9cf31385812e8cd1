import type { About } from '../../shared/about';
import { linesOf } from './fonts';
import type { Page } from './page';

/** A picture of the sheet, encoded, with its size. */
export interface SheetPicture {
  file: Buffer;
  width: number;
  height: number;
}

export interface BeforeAfter {
  title: string;
  about: About;
  before: SheetPicture;
  after: SheetPicture;
  /** What was done, a line a step. */
  done: string[];
  /** Said at the foot. */
  foot: string;
}

const A4 = { width: 297, height: 210 };
/** Millimetres. */
const MARGIN = 14,
  GAP = 8,
  HEAD = 17,
  FOOT = 44;
const TEXT = 3.1,
  LEADING = 4.3,
  SMALL = 2.7;
/** Lines of what was done in each of two columns. */
const LINES = 6;

/** A picture as it came beside what was made of it, in the same height, with what is known of it and what was done: a lying A4 page. */
export function beforeAfterSheet({ title, about, before, after, done, foot }: BeforeAfter): Page {
  const room = A4.height - 2 * MARGIN - HEAD - FOOT;
  const across = A4.width - 2 * MARGIN - GAP;
  const ratios = [before.width / before.height, after.width / after.height];
  const height = Math.min(room, across / (ratios[0] + ratios[1]));
  const widths = ratios.map((ratio) => ratio * height);
  const left = MARGIN + (across - widths[0] - widths[1]) / 2;
  const tops = MARGIN + HEAD + (room - height) / 2;
  const page: Page = {
    ...A4,
    pictures: [
      { file: before.file, x: left, y: tops, width: widths[0], height },
      { file: after.file, x: left + widths[0] + GAP, y: tops, width: widths[1], height },
    ],
    texts: [
      { text: linesOf(title, (A4.width - 2 * MARGIN) / 6, 1, true)[0], x: MARGIN, y: MARGIN + 4, size: 6, strong: true },
      { text: linesOf(tellingOf(about), (A4.width - 2 * MARGIN) / 3, 1)[0], x: MARGIN, y: MARGIN + 9.5, size: 3, quiet: true },
      { text: 'As it came', x: left, y: tops + height + 4.5, size: TEXT, strong: true },
      { text: 'Restored', x: left + widths[0] + GAP, y: tops + height + 4.5, size: TEXT, strong: true },
    ],
    lines: [],
  };
  const top = A4.height - MARGIN - FOOT + 14;
  page.lines.push({ from: [MARGIN, top - 4.5], to: [A4.width - MARGIN, top - 4.5], width: 0.2, quiet: true });
  page.texts.push({ text: 'What was done', x: MARGIN, y: top, size: TEXT, strong: true });
  const column = (A4.width - 2 * MARGIN - GAP) / 2;
  const lines = done.flatMap((line) => linesOf(line, column / TEXT, 2));
  const shown = lines.length > 2 * LINES ? [...lines.slice(0, 2 * LINES - 1), 'and more: see the provenance record'] : lines;
  shown.forEach((text, n) =>
    page.texts.push({
      text,
      x: MARGIN + Math.floor(n / LINES) * (column + GAP),
      y: top + LEADING * (1 + (n % LINES)),
      size: TEXT,
    }),
  );
  page.texts.push({
    text: linesOf(foot, (A4.width - 2 * MARGIN) / SMALL, 1)[0],
    x: MARGIN,
    y: A4.height - MARGIN + 4,
    size: SMALL,
    quiet: true,
  });
  return page;
}

/** What is known of a picture, in one line. */
export const tellingOf = ({ people, date, place }: About): string => [date, place, people.join(', ')].filter(Boolean).join(' · ');
