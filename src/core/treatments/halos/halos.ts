import { haloBorder, withoutHalos } from '../../edges/halos';
import { lumaOnly } from '../lumaOnly';
import { NumberSetting } from '../setting';
import { finerDepth, NO_NEEDS, type Treatment } from '../treatment';

export class HaloSettings {
  @NumberSetting({
    label: 'Width',
    unit: 'px',
    min: 1,
    max: 8,
    step: 1,
    whole: true,
    help: 'How wide the outlines are. Too wide takes thin lines beside edges for outlines.',
  })
  width = 2;

  @NumberSetting({
    label: 'Bright',
    unit: '%',
    min: 0,
    max: 100,
    step: 1,
    whole: true,
    help: 'How much of the bright outlines is taken away.',
  })
  bright = 80;

  @NumberSetting({ label: 'Dark', unit: '%', min: 0, max: 100, step: 1, whole: true, help: 'How much of the dark outlines is taken away.' })
  dark = 60;
}

export const halos: Treatment<HaloSettings> = {
  id: 'halos',
  version: 1,
  name: 'Halos',
  answers: 'bright and dark outlines',
  settings: HaloSettings,
  inPlace: true,
  order: [{ after: 'upscale', text: 'Outlines are wider once they are enlarged. Move Halos above Upscale, or set them wider.' }],
  suits: ({ fieldOrder }) => fieldOrder === 'progressive',
  output: (input) => ({ ...input, depth: finerDepth(input) }),
  needs: ({ width }) => ({ ...NO_NEEDS, border: haloBorder(width), grid: 2 }),
  // Outlines may be the picture's own: it is for the eye to say.
  propose: () => undefined,
  coarse: () => 'leave',
  summary: ({ width, bright, dark }) => `${width} px, bright ${bright} %, dark ${dark} %`,
  apply: ([source], { width, bright, dark }, context) =>
    lumaOnly(source, context, (luma, own, region) => withoutHalos(luma, own, region, { width, bright: bright / 100, dark: dark / 100 })),
};
