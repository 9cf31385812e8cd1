import { safeName } from '../archive/paths';
import type { Collection, DeliverableKind, Item, JobOptions } from '../archive/types';

const KIND_WORDS: Record<DeliverableKind, string> = {
  original: 'original',
  master: 'master',
  access: 'access',
  subtitles: 'subtitles',
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
export function deliverableName(pattern: string, words: { collection: string; item: string; date: string }, kind: DeliverableKind): string {
  const filled = pattern
    .replaceAll('{collection}', words.collection)
    .replaceAll('{item}', words.item)
    .replaceAll('{kind}', KIND_WORDS[kind])
    .replaceAll('{date}', words.date);
  return safeName(filled);
}

/** Ending of a master or access copy. */
export function deliverableEnding(kind: 'master' | 'access', item: Item, options: JobOptions): string {
  if (item.kind === 'moving') return kind === 'master' ? 'mkv' : 'mp4';
  return kind === 'access' ? 'jpg' : options.stillMaster === 'tiff' ? 'tif' : 'png';
}

/** Names a job's files would have, in the order they are listed. */
export function previewNames(item: Item, collection: Collection, options: JobOptions, date: string): string[] {
  const words = { collection: collection.name, item: item.name, date };
  const name = (kind: DeliverableKind, ending: string): string => `${deliverableName(options.pattern, words, kind)}.${ending}`;
  const copies = (['master', 'access'] as const)
    .filter((kind) => options[kind])
    .map((kind) => name(kind, deliverableEnding(kind, item, options)));
  return [...(options.original ? [item.fileName] : []), ...copies, name('provenance', 'json')];
}
