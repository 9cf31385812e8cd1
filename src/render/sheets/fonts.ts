import path from 'node:path';
import { type Font, openSync } from 'fontkit';
import { applicationRoot } from '../../core';

/** The application's typeface, whose files hold a script each; a character is set in the first that has it. */
const SCRIPTS = ['latin', 'latin-ext', 'greek', 'greek-ext', 'cyrillic', 'cyrillic-ext', 'vietnamese'];

export interface Face {
  file: string;
  font: Font;
}

const loaded = new Map<boolean, Face[]>();

/** Files of the typeface, by weight, read once. */
function faces(strong: boolean): Face[] {
  let list = loaded.get(strong);
  if (!list) {
    const folder = path.join(/* turbopackIgnore: true */ applicationRoot(), 'node_modules/@fontsource/source-sans-3/files');
    list = SCRIPTS.map((script) => {
      const file = path.join(folder, `source-sans-3-${script}-${strong ? 600 : 400}-normal.woff`);
      return { file, font: openSync(file) as Font };
    });
    loaded.set(strong, list);
  }
  return list;
}

/** A stretch of text that one file of the typeface holds. */
export interface Run {
  face: Face;
  text: string;
  /** Width in ems. */
  width: number;
}

/** Text in stretches of one file each; what none holds stands as the first file's sign for what is missing. */
export function runsOf(text: string, strong = false): Run[] {
  const list = faces(strong);
  const runs: { face: Face; text: string }[] = [];
  for (const sign of text) {
    const code = sign.codePointAt(0) ?? 0;
    const last = runs.at(-1);
    const face = last?.face.font.hasGlyphForCodePoint(code)
      ? last.face
      : (list.find(({ font }) => font.hasGlyphForCodePoint(code)) ?? list[0]);
    if (last?.face === face) last.text += sign;
    else runs.push({ face, text: sign });
  }
  return runs.map((run) => ({ ...run, width: run.face.font.layout(run.text).advanceWidth / run.face.font.unitsPerEm }));
}

/** Width of a line in ems. */
export const widthOf = (text: string, strong?: boolean): number => runsOf(text, strong).reduce((sum, run) => sum + run.width, 0);

/** Whether every sign of a text is in the typeface. */
export const canBeSet = (text: string): boolean =>
  [...text].every((sign) => faces(false).some(({ font }) => font.hasGlyphForCodePoint(sign.codePointAt(0) ?? 0)));

/**
 * Text broken into lines at spaces, and within words that are wider than a line; the last line that may be there ends in an ellipsis where there
 * is more.
 *
 * @param width in ems.
 */
export function linesOf(text: string, width: number, most = Infinity, strong = false): string[] {
  const lines: string[] = [];
  for (const paragraph of text.split('\n')) {
    let line = '';
    for (const word of paragraph
      .split(/\s+/)
      .filter(Boolean)
      .flatMap((w) => piecesOf(w, width, strong))) {
      const longer = line ? `${line} ${word}` : word;
      if (line && widthOf(longer, strong) > width) {
        lines.push(line);
        line = word;
      } else line = longer;
    }
    lines.push(line);
  }
  if (lines.length <= most) return lines;
  let last = lines[most - 1];
  while (last && widthOf(`${last}…`, strong) > width) last = last.slice(0, -1);
  return [...lines.slice(0, most - 1), `${last.trimEnd()}…`];
}

/** A word in pieces that fit into a line each. */
function piecesOf(word: string, width: number, strong: boolean): string[] {
  if (widthOf(word, strong) <= width) return [word];
  const pieces: string[] = [];
  let piece = '';
  for (const sign of word) {
    if (piece && widthOf(piece + sign, strong) > width) {
      pieces.push(piece);
      piece = '';
    }
    piece += sign;
  }
  return [...pieces, piece];
}
