import { type Collection, type DeliverableKind, type Item, safeName } from '../archive';
import type { JobOptions } from '../shared/jobs';

const KIND_WORDS: Record<DeliverableKind, string> = {
  original: 'original',
  master: 'master',
  monochrome: 'monochrome',
  access: 'access',
  subtitles: 'subtitles',
  sheet: 'before and after',
  print: 'print',
  provenance: 'provenance',
};

/** Words a pattern may hold. */
export const PATTERN_WORDS = ['{collection}', '{item}', '{kind}', '{date}'];

/** What is wrong with a file name pattern, or nothing. */
export function patternProblem(pattern: string): string | undefined {
  const unknown = (pattern.match(/\{[^}]*\}/g) ?? []).find((w) => !PATTERN_WORDS.includes(w));
  if (unknown) return `The pattern holds ${unknown}; it may hold ${PATTERN_WORDS.join(', ')}.`;
  if (!pattern.includes('{kind}')) return 'The pattern must hold {kind}, or master and access copy would have one name.';
  if (/[/\\]/.test(pattern)) return 'The pattern names files, not folders: it may not hold a slash.';
  return undefined;
}

/** File name, without its ending, of one deliverable. */
function deliverableName(pattern: string, words: { collection: string; item: string; date: string }, kind: DeliverableKind): string {
  const filled = pattern
    .replaceAll('{collection}', words.collection)
    .replaceAll('{item}', words.item)
    .replaceAll('{kind}', KIND_WORDS[kind])
    .replaceAll('{date}', words.date);
  return safeName(filled);
}

/** Ending of a master or access copy. */
function deliverableEnding(kind: 'master' | 'monochrome' | 'access', item: Item, options: JobOptions): string {
  if (item.kind === 'moving') return kind === 'access' ? 'mp4' : 'mkv';
  if (kind === 'access') return options.stillAccess === undefined || options.stillAccess === 'jpeg' ? 'jpg' : options.stillAccess;
  return options.stillMaster === 'tiff' ? 'tif' : 'png';
}

/** What a pattern's words stand for. */
type PatternValues = Parameters<typeof deliverableName>[1];

/** Names of all that a job may hand over, no two alike: the original keeps its own, and one that meets another gets a number. */
export function deliverableNames(
  item: Item,
  words: PatternValues,
  options: JobOptions,
): Record<'original' | 'master' | 'monochrome' | 'access' | 'sheetPdf' | 'sheetPng' | 'print' | 'provenance', string> {
  const taken = new Set<string>();
  const free = (stem: string, ending: string): string => {
    for (let n = 1; ; n++) {
      const name = n === 1 ? `${stem}${ending}` : `${stem} (${n})${ending}`;
      // Some file systems take names for the same that differ in case alone.
      if (taken.has(name.toLowerCase())) continue;
      taken.add(name.toLowerCase());
      return name;
    }
  };
  const made = (kind: DeliverableKind, ending: string): string => free(deliverableName(options.pattern, words, kind), `.${ending}`);
  return {
    original: free(item.source.fileName, ''),
    master: made('master', deliverableEnding('master', item, options)),
    monochrome: made('monochrome', deliverableEnding('monochrome', item, options)),
    access: made('access', deliverableEnding('access', item, options)),
    sheetPdf: made('sheet', 'pdf'),
    sheetPng: made('sheet', 'png'),
    print: made('print', 'pdf'),
    provenance: made('provenance', 'json'),
  };
}

/** Names a job's files would have, in the order they are listed. @param coloured whether its plan adds colours. */
export function previewNames(item: Item, collection: Collection, options: JobOptions, date: string, coloured: boolean): string[] {
  const names = deliverableNames(item, { collection: collection.name, item: item.name, date }, options);
  const papers =
    item.kind === 'still' ? [options.sheet && names.sheetPdf, options.sheet && names.sheetPng, options.print && names.print] : [];
  return [
    ...(['original', 'master', 'monochrome', 'access'] as const)
      .filter((kind) => (kind === 'monochrome' ? coloured && options.master : options[kind]))
      .map((kind) => names[kind]),
    ...papers.filter((name): name is string => typeof name === 'string'),
    names.provenance,
  ];
}
