import { withFinerChroma } from '../../picture/chroma';
import { cutPicture } from '../../picture/picture';
import { filmEnds, positiveLayers } from '../../tone/negative';
import type { Look } from '../../tone/look';
import { toned } from '../../tone/toned';
import { ChoiceSetting, ColourSetting, NumberSetting } from '../setting';
import { finerDepth, NO_NEEDS, type Treatment } from '../treatment';

export class NegativeSettings {
  @ChoiceSetting({
    label: 'Film',
    options: [
      { value: 'colour', label: 'colours' },
      { value: 'grey', label: 'black and white' },
    ],
    help: 'In colours each of the three layers is turned by itself, and the orange of the film goes. Black and white film leaves no colours.',
  })
  film: 'colour' | 'grey' = 'colour';

  @ColourSetting({
    label: 'Clear film',
    help: 'Film that no light has reached: its edge, or between two pictures. Nothing picked: the brightest that is there.',
  })
  clear = '';

  @ColourSetting({ label: 'Was white', help: 'The densest place, which was white or a light. Nothing picked: the darkest that is there.' })
  dense = '';

  @NumberSetting({
    label: 'Contrast',
    unit: '%',
    min: 40,
    max: 160,
    step: 1,
    whole: true,
    help: '100 suits film of usual development; more for flat negatives, less for hard ones.',
  })
  contrast = 100;
}

export const negative: Treatment<NegativeSettings> = {
  id: 'negative',
  version: 1,
  name: 'Negative',
  answers: 'negatives of film or glass',
  settings: NegativeSettings,
  order: [{ after: 'tone', text: 'Tone works on the positive. Move Negative above Tone.' }],
  suits: ({ fieldOrder, chromaShiftX, chromaShiftY }) => fieldOrder === 'progressive' && chromaShiftX === 0 && chromaShiftY === 0,
  output: (input) => ({ ...input, depth: finerDepth(input) }),
  // Where its ends are not picked they are those of all of the picture.
  needs: ({ clear, dense }) => ({ ...NO_NEEDS, whole: !clear || !dense }),
  propose: () => undefined,
  coarse: (settings) => settings,
  summary: ({ film, clear, dense }) =>
    `${film === 'colour' ? 'in colours' : 'black and white'}, ${clear && dense ? 'ends picked' : 'ends as the picture has them'}`,
  apply([source], { film, clear, dense, contrast }, { input, output, region, asked, share }) {
    const found = clear && dense ? { clear, dense } : share(() => filmEnds(source));
    const ends = { clear: clear || found.clear, dense: dense || found.dense };
    const look: Look = {
      layers: positiveLayers(ends, contrast / 100, input.colour.transfer),
      uneven: { across: 0, down: 0, corners: 0 },
      ...{ darks: 0, lights: 0, large: 1, small: 1, strength: film === 'grey' ? 0 : 1, pale: 1, curve: [] },
    };
    const wanted = clear && dense ? region : asked;
    return { ...toned(cutPicture(withFinerChroma(source, 0, 0), wanted), wanted, look), info: output };
  },
};
