import { asColour } from '../../picture/asColour';
import { toneLaid, TONINGS, type Toning } from '../../colour/toning';
import { cutPicture } from '../../picture/picture';
import { ChoiceSetting, NumberSetting } from '../setting';
import { finerDepth, NO_NEEDS, type Treatment } from '../treatment';

export class ToningSettings {
  @ChoiceSetting({
    label: 'Tone',
    options: [{ value: 'neutral', label: 'neutral' }, ...Object.entries(TONINGS).map(([value, { label }]) => ({ value, label }))],
    help: 'What the whole picture is toned with; lightness stays. Neutral takes a tone off: nothing but lightness is left.',
  })
  tone: 'neutral' | Toning = 'neutral';

  @NumberSetting({
    label: 'Strength',
    unit: '%',
    min: 0,
    max: 100,
    step: 5,
    whole: true,
    help: 'How far the picture’s own colours give way to it.',
  })
  strength = 100;
}

export const toning: Treatment<ToningSettings> = {
  id: 'toning',
  version: 1,
  name: 'Toning',
  answers: 'a tone, wanted or not',
  settings: ToningSettings,
  inPlace: true,
  suits: ({ fieldOrder }) => fieldOrder === 'progressive',
  output: (input) => ({ ...input, depth: finerDepth(input), planes: 3, ...(input.planes === 1 && { chromaShiftX: 0, chromaShiftY: 0 }) }),
  needs: () => NO_NEEDS,
  propose: () => undefined,
  coarse: (settings) => settings,
  summary: ({ tone, strength }) => `${tone === 'neutral' ? 'neutral' : TONINGS[tone].label}${strength < 100 ? `, ${strength} %` : ''}`,
  apply([source], { tone, strength }, { output, region }) {
    const picture = asColour(cutPicture(source, region), output);
    return { ...toneLaid(picture, tone === 'neutral' ? undefined : tone, strength / 100), info: output };
  },
};
