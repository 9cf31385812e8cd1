import { mendDamage } from '../src/core/dirt/mend';
import { wholeRegion, type Picture } from '../src/core/picture/picture';
import { damageOf, DirtSettings } from '../src/core/treatments/dirt/dirt';
import { PEAK } from './held';
import { mean, prints, psnrIn, SORTS, type Prints, type Sort } from './prints';
import type { Row } from './table';

/** Codes of 255 by which a sample may be off unseen. */
const UNSEEN = 1.5;

/** Prints as Dirt leaves them when nobody touches it, against leaving them as they came; and whole ones, which nothing should change. */
export async function dirtUntouched(): Promise<Row[]> {
  return [
    ...(await untouched('scans', 'Prints: Dirt untouched, over the scan as it came, parts of scans at 300 to 600 dots an inch')),
    ...(await untouched('prints', 'Prints: Dirt untouched, over the scan as it came, small prints and coarse scans')),
  ];
}

async function untouched(of: Prints, group: string): Promise<Row[]> {
  const gains = new Map<Sort, number[]>();
  const changed = new Map<string, number>();
  for await (const { name, sort, damaged, whole, truth } of prints(of)) {
    const made = await mended(damaged);
    const truly = whole.planes[0].data,
      before = damaged.planes[0].data,
      after = made.planes[0].data;
    // What was harmed, and what was changed though it was not.
    const judged = truth.map((v, i) => Number(v > 0 || after[i] !== before[i]));
    gains.set(sort, [...(gains.get(sort) ?? []), psnrIn(after, truly, judged) - psnrIn(before, truly, judged)]);
    if (!changed.has(name)) changed.set(name, share((await mended(whole)).planes[0].data, truly));
  }
  const shares = [...changed.values()];
  const signed = (v: number): string => `${v >= 0 ? '+' : ''}${v.toFixed(2)}`;
  return [
    ...SORTS.map((sort): Row => {
      const own = gains.get(sort) ?? [];
      const worst = Math.min(...own);
      return { group, what: `${sort}: mean, worst, dB`, shown: `${signed(mean(own))}, ${signed(worst)}`, value: worst, atLeast: 0 };
    }),
    {
      group,
      what: `whole pictures: changed by more than ${UNSEEN} codes, % of pixels, mean`,
      shown: mean(shares).toFixed(3),
      value: mean(shares),
      atMost: 0.05,
    },
    { group, what: `whole pictures: the same, worst`, shown: Math.max(...shares).toFixed(2) },
  ];
}

async function mended(picture: Picture): Promise<Picture> {
  const settings = new DirtSettings();
  const region = wholeRegion(picture.info);
  const { damage } = await damageOf(picture, region, settings, { marks: [], place: [1, 0, 0, 0, 1, 0, 0, 0, 1] });
  return mendDamage(picture, damage, region, { quality: settings.quality, seeThrough: true });
}

/** Percent of the samples that differ visibly. */
function share(made: Uint16Array, truth: Uint16Array): number {
  const far = (UNSEEN * PEAK) / 255;
  return (100 * made.reduce((sum, v, i) => sum + Number(Math.abs(v - truth[i]) > far), 0)) / made.length;
}
