import { useEffect, useState } from 'react';
import { toast } from 'sonner';
import type { StrokesAnswer, StrokesChangedAnswer } from '../../../archive';
import type { StrokeMark } from '../../../shared/marks';
import { stepOf } from '../../../shared/plan';
import type { StrokesRequest } from '../../../shared/requests';
import { api } from '../../parts/api';
import { changeMarks } from '../state/planActions';
import { useBench, type Bench } from '../state/store';

/** Lists that were read or made here: what a name stands for never changes. */
const known = new Map<string, StrokeMark[]>();
/** Lists remembered. */
const MAX_KNOWN = 200;

function remember(list: string, strokes: StrokeMark[]): void {
  known.set(list, strokes);
  for (const old of known.keys()) if (known.size > MAX_KNOWN) known.delete(old);
}

async function read(item: string, list: string): Promise<StrokeMark[]> {
  const there = known.get(list);
  if (there) return there;
  const { strokes } = await api<StrokesAnswer>(`items/${item}/strokes?list=${list}`);
  remember(list, strokes);
  return strokes;
}

const NONE: StrokeMark[] = [];

/** The strokes of a list; what was there before until they are read. */
export function useStrokes(list: string | undefined): StrokeMark[] {
  const item = useBench((s) => s.item.id);
  const [strokes, setStrokes] = useState<StrokeMark[]>();
  useEffect(() => {
    let wanted = true;
    if (!list) return;
    read(item, list)
      .then((there) => wanted && setStrokes(there))
      .catch((error: Error) => toast.error(`The hand work cannot be read: ${error.message}`));
    return () => {
      wanted = false;
    };
  }, [item, list]);
  if (!list) return NONE;
  return known.get(list) ?? strokes ?? NONE;
}

/** Changes are made one after the other, each on what the one before left. */
let queue: Promise<void> = Promise.resolve();

/** Adds, changes or removes strokes of a step. @param words for the plan's history. */
export function changeStrokes(
  bench: Bench,
  owner: string,
  change: { set?: StrokeMark[]; remove?: string[] },
  words: string,
): Promise<void> {
  const { set = [], remove = [] } = change;
  queue = queue.then(async () => {
    const { item, plan } = bench.getState();
    const step = stepOf(plan, owner);
    if (!step) return;
    try {
      const before = step.marks ? await read(item.id, step.marks) : [];
      const { list } = await api<StrokesChangedAnswer>(`items/${item.id}/strokes`, {
        method: 'POST',
        json: { base: step.marks, set, remove } satisfies StrokesRequest,
      });
      const changed = new Map(set.map((mark) => [mark.id, mark]));
      const left = before.filter(({ id }) => !remove.includes(id)).map((mark) => changed.get(mark.id) ?? mark);
      remember(list, [...left, ...set.filter(({ id }) => before.every((mark) => mark.id !== id))]);
      if (stepOf(bench.getState().plan, owner)) changeMarks(bench, owner, list, words);
    } catch (error) {
      toast.error(`The mark was not kept: ${(error as Error).message}`);
    }
  });
  return queue;
}
