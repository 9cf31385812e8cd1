import { measureDirt } from '../src/core/condition/dirt';
import { mendDamage } from '../src/core/dirt/mend';
import { wholeRegion, type Picture } from '../src/core/picture/picture';
import { damageOf, dirt, DirtSettings } from '../src/core/treatments/dirt/dirt';
import { reportOf } from '../src/core/testing/reports';
import { SAME_PLACE } from '../src/shared/maps/place';
import { PEAK } from './held';
import { DIRT_SORTS, mean, prints, psnrIn, type Prints, type Sort } from './prints';
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
  // By the plan as it is proposed.
  const proposed: { on: boolean; gain: number }[] = [],
    needless: boolean[] = [];
  for await (const { name, sort, damaged, whole, truth } of prints(of, DIRT_SORTS)) {
    const truly = whole.planes[0].data,
      before = damaged.planes[0].data;
    const gainOf = async (settings: DirtSettings): Promise<number> => {
      const after = (await mended(damaged, settings)).planes[0].data;
      // What was harmed, and what was changed though it was not.
      const judged = truth.map((v, i) => Number(v > 0 || after[i] !== before[i]));
      return psnrIn(after, truly, judged) - psnrIn(before, truly, judged);
    };
    gains.set(sort, [...(gains.get(sort) ?? []), await gainOf(new DirtSettings())]);
    const plan = await proposedFor(damaged);
    proposed.push({ on: plan !== undefined, gain: plan ? await gainOf(plan) : 0 });
    if (changed.has(name)) continue;
    changed.set(name, share((await mended(whole, new DirtSettings())).planes[0].data, truly));
    needless.push((await proposedFor(whole)) !== undefined);
  }
  const shares = [...changed.values()],
    gained = proposed.map(({ gain }) => gain),
    on = proposed.filter((each) => each.on).length;
  const signed = (v: number): string => `${v >= 0 ? '+' : ''}${v.toFixed(2)}`;
  return [
    ...DIRT_SORTS.map((sort): Row => {
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
    {
      group,
      what: 'all of them, with Dirt on or off as the plan proposes it: mean, worst, dB',
      shown: `${signed(mean(gained))}, ${signed(Math.min(...gained))}; on for ${on} of ${gained.length}`,
      value: Math.min(...gained),
      atLeast: 0,
    },
    {
      group,
      what: 'whole pictures for which the plan proposes it',
      shown: `${needless.filter(Boolean).length} of ${needless.length}`,
      value: needless.filter(Boolean).length,
      atMost: 0,
    },
  ];
}

/** The settings with which Dirt is proposed; undefined where it is off. */
async function proposedFor(picture: Picture): Promise<DirtSettings | undefined> {
  const reading = await measureDirt(picture);
  const proposal = dirt.propose(reportOf({ dirt: reading }), picture.info);
  return proposal?.on ? { ...new DirtSettings(), ...proposal.settings } : undefined;
}

async function mended(picture: Picture, settings: DirtSettings): Promise<Picture> {
  const region = wholeRegion(picture.info);
  const { damage } = await damageOf(picture, region, settings, { marks: [], place: SAME_PLACE });
  return mendDamage(picture, damage, region, { quality: settings.quality, seeThrough: true });
}

/** Percent of the samples that differ visibly. */
function share(made: Uint16Array, truth: Uint16Array): number {
  const far = (UNSEEN * PEAK) / 255;
  return (100 * made.reduce((sum, v, i) => sum + Number(Math.abs(v - truth[i]) > far), 0)) / made.length;
}
