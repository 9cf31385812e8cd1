import { createHash, randomUUID } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { mkdir, readFile, rename, rm, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { LRUCache } from 'lru-cache';
import type { FindAnalysis, KnownAnalysis } from '../../core';
import type { Analysis, Piece } from './analysis';

/** Where analyses lie in an archive's derived files: they can be made again. */
const FOLDER = 'analyses';

/** What is kept of an analysis. */
export interface KeptAnalysis<T> {
  value: T;
  /** Share that is measured, 0 to 1. */
  share: number;
}

type Named = Pick<Analysis<unknown>, 'id' | 'version'>;

/** The file of an analysis of a node. @param key the node's. */
export function analysisFile(derived: string, { id, version }: Named, key: string): string {
  const name = createHash('sha256').update(key).digest('hex').slice(0, 40);
  return path.join(/* turbopackIgnore: true */ derived, FOLDER, `${id}-${version}-${name}.json`);
}

/** Where a piece of an analysis is kept until all of them are there. @param file the whole's. */
export const pieceFile = (file: string, { index, count }: Piece): string => file.replace(/\.json$/, `.${index + 1}-of-${count}.json`);

/** Keeps an analysis, or as much as is measured of it. */
export async function keepAnalysis<T>(file: string, analysis: Analysis<T>, { value, share }: KeptAnalysis<T>): Promise<void> {
  await mkdir(path.dirname(file), { recursive: true });
  const made = `${file}.${randomUUID()}.new`;
  try {
    await writeFile(made, JSON.stringify({ share, value: analysis.encode(value) }));
    await rename(made, file);
  } catch (error) {
    await rm(made, { force: true });
    throw error;
  }
}

/** What is kept; undefined where there is nothing, or it was damaged. */
export async function readAnalysis<T>(file: string, analysis: Analysis<T>): Promise<KeptAnalysis<T> | undefined> {
  try {
    return decoded(await readFile(file, 'utf8'), analysis);
  } catch {
    return undefined;
  }
}

function decoded<T>(text: string, analysis: Analysis<T>): KeptAnalysis<T> {
  const { share, value } = JSON.parse(text) as { share: number; value: unknown };
  return { share, value: analysis.decode(value) };
}

/** Analyses held in memory for the graphs of one process. */
const MAX_HELD = 50;

/** Looks up whole analyses for graphs. @param derived folder of the archive's derived files; undefined outside of one. */
export function findAnalysisIn(derived: string | undefined, analyses: Analysis<unknown>[]): FindAnalysis {
  const held = new LRUCache<string, KnownAnalysis>({ max: MAX_HELD });
  return (key, id) => {
    const analysis = analyses.find((a) => a.id === id);
    if (!derived || !analysis) return undefined;
    const file = analysisFile(derived, analysis, key);
    const known = held.get(file);
    if (known) return known;
    try {
      const text = readFileSync(file, 'utf8');
      const { share, value } = decoded(text, analysis);
      if (share < 1) return undefined;
      const found = { hash: createHash('sha256').update(text).digest('hex'), value };
      held.set(file, found);
      return found;
    } catch {
      return undefined;
    }
  };
}
