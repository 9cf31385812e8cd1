import { wholeRegion, type Picture } from '../src/core/picture/picture';
import { findSilvering } from '../src/core/silvering/find';
import { isSilvered, readingOf } from '../src/core/silvering/measure';
import { contextOf } from '../src/core/testing/context';
import { silvering, SilveringSettings } from '../src/core/treatments/silvering/silvering';
import { f1, mean, prints, psnrIn, type Prints } from './prints';
import type { Row } from './table';

interface Lifted {
  made: Picture;
  /** Where a veil was lifted. */
  mask: Uint8Array;
  /** Whether the report tells of it. */
  told: boolean;
}

/** A print as Silvering leaves it, switched on and untouched. */
async function lifted(picture: Picture): Promise<Lifted> {
  const region = wholeRegion(picture.info);
  const found = await findSilvering(picture);
  const context = contextOf(picture.info, region, { analyses: { silvering: found } });
  const settings = new SilveringSettings();
  const shown = await silvering.found?.([picture], settings, context);
  if (!shown) throw new Error('Silvering does not show what it finds');
  return { made: await silvering.apply([picture], settings, context), mask: shown.mask, told: isSilvered(readingOf(found)) };
}

/** Silvering found and lifted, and what it does to prints without any. */
export async function silveringLifted(): Promise<Row[]> {
  return [
    ...(await liftedIn('scans', 'parts of scans at 300 to 600 dots an inch')),
    ...(await liftedIn('prints', 'small prints and coarse scans')),
  ];
}

async function liftedIn(of: Prints, name: string): Promise<Row[]> {
  const group = `Prints: Silvering switched on, ${name} (held-out pictures, drawn damage)`;
  const scores: number[] = [],
    gains: number[] = [],
    alarms: number[] = [],
    told: boolean[] = [],
    falsely: boolean[] = [];
  for await (const { damaged, whole, truth } of prints(of, ['silvering'])) {
    const { width, height } = damaged.region;
    const { made, mask, told: seen } = await lifted(damaged);
    scores.push(f1(mask, truth, width, height));
    told.push(seen);
    const [before, after, truly] = [damaged, made, whole].map(({ planes }) => planes[0].data);
    const judged = truth.map((v, i) => Number(v > 0 || after[i] !== before[i]));
    gains.push(psnrIn(after, truly, judged) - psnrIn(before, truly, judged));
    const clean = await lifted(whole);
    alarms.push((100 * clean.mask.reduce((sum, v) => sum + v, 0)) / clean.mask.length);
    falsely.push(clean.told);
  }
  const count = (flags: boolean[]): string => `${flags.filter(Boolean).length} of ${flags.length}`;
  const signed = (v: number): string => `${v >= 0 ? '+' : ''}${v.toFixed(2)}`;
  return [
    {
      group,
      what: 'F1',
      shown: `${mean(scores).toFixed(3)} (worst picture ${Math.min(...scores).toFixed(2)})`,
      value: mean(scores),
      atLeast: 0.7,
    },
    {
      group,
      what: 'over leaving it: mean, worst, dB',
      shown: `${signed(mean(gains))}, ${signed(Math.min(...gains))}`,
      value: mean(gains),
      atLeast: 0,
    },
    { group, what: 'told in the report, of the silvered; of the whole', shown: `${count(told)}; ${count(falsely)}` },
    {
      group,
      what: 'whole pictures: lifted though there is nothing, % of pixels, mean; worst',
      shown: `${mean(alarms).toFixed(3)}; ${Math.max(...alarms).toFixed(2)}`,
    },
  ];
}
