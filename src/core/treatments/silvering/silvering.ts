import { withCoarserChroma, withFinerChroma } from '../../picture/chroma';
import { cutPicture, growRegion, type Picture, type Region } from '../../picture/picture';
import { isSilvered } from '../../silvering/measure';
import { liftSilvering } from '../../silvering/lift';
import type { Silvering } from '../../silvering/find';
import { NumberSetting } from '../setting';
import { finerDepth, NO_NEEDS, type Treatment } from '../treatment';

export class SilveringSettings {
  @NumberSetting({
    label: 'How sure',
    unit: '%',
    min: 20,
    max: 99,
    step: 1,
    whole: true,
    help: 'What is less likely to be silver come to the surface than this is left alone. Lower reaches further in, and sooner or later takes in pale shadows.',
  })
  sure = 40;

  @NumberSetting({
    label: 'Strength',
    unit: '%',
    min: 0,
    max: 150,
    step: 5,
    whole: true,
    help: 'How strong a veil is lifted: 100 is all that was measured. Too much leaves the edges darker than the rest.',
  })
  strength = 85;
}

/** Pixels round a part for its chroma. */
const BORDER = 8;

/** A part of a picture, its chroma at every pixel, before and after. @param source holds BORDER pixels round it, as far as the frame goes. */
function lifted(
  source: Picture,
  region: Region,
  { sure, strength }: SilveringSettings,
  found: Silvering,
): { before: Picture; after: Picture } {
  const { chromaShiftX, chromaShiftY } = source.info;
  // Chroma samples lie between pixels: one more of them on each side.
  const wanted = growRegion(region, chromaShiftX || chromaShiftY ? 1 << Math.max(chromaShiftX, chromaShiftY) : 0, 4, source.info);
  const before = withFinerChroma(source, 0, 0);
  return { before, after: liftSilvering(before, wanted, found, { sure: sure / 100, strength: strength / 100 }) };
}

/** Codes of 65535 that what is lifted is changed by at least to be shown. */
const SHOWN = 10 * 257;

export const silvering: Treatment<SilveringSettings> = {
  id: 'silvering',
  version: 1,
  name: 'Silvering',
  answers: 'silver come to the surface',
  settings: SilveringSettings,
  inPlace: true,
  order: [
    { after: 'tone', text: 'The veil is measured as it was scanned. Move Silvering above Tone.' },
    { after: 'colourise', text: 'The veil would be coloured with the picture. Move Silvering above Colourise.' },
    { after: 'toning', text: 'The veil would be toned with the picture. Move Silvering above Toning.' },
  ],
  reads: () => ['silvering'],
  suits: ({ frames, fieldOrder }) => frames === 1 && fieldOrder === 'progressive',
  output: (input) => ({ ...input, depth: finerDepth(input) }),
  needs: () => ({ ...NO_NEEDS, border: BORDER, grid: 4 }),
  networks: () => ['silvering'],
  // Blue shadows and pale walls may pass for a veil, and a veil of another strength than was measured leaves its mark.
  propose: ({ measurements: { silvering: found } }) => (found && isSilvered(found) ? { on: false, settings: {} } : undefined),
  coarse: () => 'leave',
  summary: ({ sure, strength }) => `${sure} % sure, strength ${strength} %`,
  found([source], settings, { asked, analyses }) {
    const { before, after } = lifted(source, asked, settings, analyses.silvering as Silvering);
    const [was, is] = [before, after].map((picture) => cutPicture(picture, asked).planes);
    const mask = new Uint8Array(asked.width * asked.height);
    for (const [p, { data }] of was.entries())
      for (let i = 0; i < mask.length; i++) if (Math.abs(data[i] - is[p].data[i]) >= SHOWN) mask[i] = 1;
    return Promise.resolve({ region: asked, mask, counts: [], share: mask.reduce((sum, v) => sum + v, 0) / mask.length });
  },
  apply([source], settings, { output, region, analyses }) {
    const { chromaShiftX, chromaShiftY } = source.info;
    const { after } = lifted(source, region, settings, analyses.silvering as Silvering);
    return { ...cutPicture(withCoarserChroma(after, chromaShiftX, chromaShiftY), region), info: output };
  },
};
