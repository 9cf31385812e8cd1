import { findDirt, FINDING_REACH, findingSize } from '../../dirt/find';
import { DIRT_KINDS, DIRT_NAMES, type DirtKind } from '../../dirt/kinds';
import { countPieces, dirtMasks, dirtPieces, maskReach, type DirtRule } from '../../dirt/mask';
import { mendReach, mendDamage } from '../../dirt/mend';
import { dilated } from '../../fill/hole';
import { cutBytes, type DamageMask } from '../../fill/onPicture';
import { laidStrokes, strokeCover } from '../../marks/strokes';
import type { FoundDirt } from '../../networks/dirt';
import { STROKE_MARKS } from '../../../shared/marks';
import { cutPicture, growRegion, regionsMeet, type Picture, type Region } from '../../picture/picture';
import { mixPictures } from '../../graph/masked';
import { MISPLACED } from '../../stains/border';
import { BESIDE, PAINTED } from '../../stains/lift';
import { QualitySetting, type Quality } from '../quality';
import { NumberSetting } from '../setting';
import { NO_NEEDS, type HandWork, type Treatment } from '../treatment';

const MAX_MARGIN = 6;

function Sensitivity(kind: DirtKind, more = ''): PropertyDecorator {
  return NumberSetting({
    label: DIRT_NAMES[kind],
    min: 0,
    max: 100,
    step: 5,
    whole: true,
    help: `How readily these are taken for damage: 0 leaves them all, 50 is as measured, 100 takes what only looks a little like it.${more}`,
  });
}

export class DirtSettings {
  @QualitySetting()
  quality: Quality = 'fast';

  @NumberSetting({
    label: 'How sure',
    unit: '%',
    min: 50,
    max: 99,
    step: 1,
    whole: true,
    help: 'What is less likely to be damage than this is left alone. Lower finds more, and sooner or later eyelashes and twigs.',
  })
  sure = 86;

  @Sensitivity('specks')
  specks = 50;

  @Sensitivity('hairs')
  hairs = 50;

  @Sensitivity('scratches')
  scratches = 50;

  @Sensitivity('folds')
  folds = 50;

  @Sensitivity('cracks')
  cracks = 50;

  @Sensitivity('stains', ' What shows through a stain stays: the stain is lifted off it. What it hides is filled.')
  stains = 50;

  @NumberSetting({
    label: 'Margin',
    unit: 'px',
    min: 0,
    max: MAX_MARGIN,
    step: 1,
    whole: true,
    help: 'How much wider than what was found is mended. Too little leaves rims, too much replaces more picture than is spoilt.',
  })
  margin = 1;

  @NumberSetting({ label: 'Amount', unit: '%', min: 0, max: 100, step: 1, whole: true, help: 'How much of the mending is applied.' })
  amount = 100;
}

/** Share of what may be damage that surely must be for Dirt to be proposed: whole pictures have less, and what has as much gains by it (bench `dirt-untouched`). */
const SURE_FROM = 0.25;

/** Whether what was found in a picture is damage for sure. */
export const surelyDirt = ({ sure }: { sure: number }): boolean => sure >= SURE_FROM;

export const dirtRule = (settings: DirtSettings): DirtRule => ({
  sure: settings.sure / 100,
  sensitivity: Object.fromEntries(DIRT_KINDS.map((kind) => [kind, settings[kind]])) as Record<DirtKind, number>,
  margin: settings.margin,
});

/** Pixels that a stain may be wider than it was found: where none is, lifting changes nothing. */
const VEIL = MISPLACED;

/** The rule whose mask depends on the most round it. */
const WIDEST = dirtRule({ ...new DirtSettings(), margin: MAX_MARGIN });

/**
 * What counts as damage in a part of a picture: what is found by the settings, and what strokes add and take away.
 * @param source holds FINDING_REACH pixels round the region grown by `maskReach`, as far as the frame goes.
 */
export async function damageOf(
  source: Picture,
  region: Region,
  settings: DirtSettings,
  { marks, place }: HandWork,
): Promise<{ damage: DamageMask; found: FoundDirt }> {
  const rule = dirtRule(settings);
  const wide = growRegion(region, maskReach(rule) + VEIL, 1, source.info);
  const found = await findDirt(source, wide, { size: findingSize(settings.quality, source.info), stains: settings.stains > 0 });
  const { mask, stained } = dirtMasks(found, rule, cutPicture(source, wide).planes[0].data);
  const kept = new Uint8Array(mask.length),
    painted = new Uint8Array(mask.length);
  for (const { mark, box, ...stroke } of laidStrokes(marks, ['damage', 'stain', 'keep'], place)) {
    if (!regionsMeet(box, wide)) continue;
    const cover = strokeCover({ mark, box, ...stroke }, wide);
    for (let i = 0; i < mask.length; i++) {
      if (cover[i] < 0.5) continue;
      mask[i] = Number(mark.use !== 'keep');
      kept[i] = Number(mark.use === 'keep');
      painted[i] = Number(mark.use === 'damage');
      stained[i] = mark.use === 'stain' ? PAINTED : 0;
    }
  }
  const damage: DamageMask = { region: wide, missing: mask, ...(painted.includes(1) && { painted }) };
  if (!stained.includes(1) && !stained.includes(PAINTED)) return { damage, found };
  const beside = dilated(
    stained.map((v) => Number(v > 0)),
    wide.width,
    wide.height,
    VEIL,
  );
  // What else is damaged in a stain is filled from what was lifted round it.
  const veiled = stained.map((v, i) => v || (beside[i] && !mask[i] && !kept[i] ? BESIDE : 0));
  for (let i = 0; i < mask.length; i++) mask[i] |= Number(veiled[i] > 0);
  return { damage: { ...damage, veiled }, found };
}

export const dirt: Treatment<DirtSettings> = {
  id: 'dirt',
  version: 13,
  name: 'Dirt',
  answers: 'dust, hairs, folds, stains',
  settings: DirtSettings,
  inPlace: true,
  marks: STROKE_MARKS,
  order: [
    { after: 'grain', text: 'Grain takes dust for picture once it is softened. Move Dirt above Grain.' },
    { after: 'upscale', text: 'Enlarged dust is harder to find. Move Dirt above Upscale.' },
  ],
  // Dust on film comes and goes from frame to frame, which is told by the neighbouring frames and not by its looks.
  suits: ({ frames }) => frames === 1,
  output: (input) => input,
  needs: ({ quality }, input) => ({
    ...NO_NEEDS,
    border: mendReach(true) + maskReach(WIDEST) + VEIL + 1 + FINDING_REACH[findingSize(quality, input)],
    grid: 2,
  }),
  networks: ({ quality, stains }) => [
    'dirt',
    ...(stains > 0 ? (['stains'] as const) : []),
    ...(quality === 'best' ? (['heal'] as const) : []),
  ],
  supported: (settings) => ({ ...settings, amount: 0 }),
  // What is sharp may be taken for dust where all of the picture is sharp: there it is counted and offered, and switched on by the restorer. So are stains
  // anywhere: shoulders and flowers look like some, and lifting them is seen at once.
  propose: ({ measurements: { dirt: found } }) => found && { on: surelyDirt(found), settings: { stains: 0 } },
  draft: (s) => ({ ...s, quality: 'fast' }),
  coarse: () => 'leave',
  summary: (s) => {
    const left = DIRT_KINDS.filter((kind) => s[kind] === 0);
    return `${s.sure} % sure${left.length ? `, without ${left.join(', ')}` : ''}`;
  },
  async found([source], settings, { asked, marks, place }) {
    const { damage, found } = await damageOf(source, asked, settings, { marks, place });
    const cut = (bytes: Uint8Array): Uint8Array<ArrayBuffer> => cutBytes(bytes, found.region, asked);
    const mask = cut(damage.missing),
      stained = damage.veiled ? cut(damage.veiled) : new Uint8Array(mask.length);
    const counts = countPieces(dirtPieces({ mask, stained }, { region: asked, kind: cut(found.kind) }));
    return {
      ...{ region: asked, mask },
      counts: DIRT_KINDS.map((kind) => ({ name: DIRT_NAMES[kind], count: counts[kind] })),
      share: mask.reduce((sum, v) => sum + v, 0) / mask.length,
    };
  },
  async apply([source], settings, { input, output, region, marks, place }) {
    const whole = cutPicture(source, region);
    if (settings.amount === 0) return { ...whole, info: output };
    const lifting = settings.stains > 0 || laidStrokes(marks, ['stain'], place).length > 0;
    const part = growRegion(region, mendReach(lifting), 1, input);
    const { damage } = await damageOf(source, part, settings, { marks, place });
    const made = await mendDamage(source, damage, region, { quality: settings.quality, seeThrough: true });
    const weight = settings.amount / 100;
    const mixed = weight < 1 ? mixPictures(whole, made, new Float32Array(region.width * region.height).fill(weight)) : made;
    return { ...mixed, info: output };
  },
};
