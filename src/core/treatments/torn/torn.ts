import { cutPicture } from '../../picture/picture';
import { joinHalves } from '../../torn/join';
import { QualitySetting, type Quality } from '../quality';
import { NumberSetting } from '../setting';
import { NO_NEEDS, PlanError, type Treatment } from '../treatment';

export class TornSettings {
  @QualitySetting()
  quality: Quality = 'fast';

  @NumberSetting({
    label: 'Right',
    unit: 'px',
    min: -200,
    max: 200,
    step: 0.5,
    help: 'Moves the smaller piece to the right beside where its edge was found to meet; less than nought, to the left.',
  })
  right = 0;

  @NumberSetting({ label: 'Down', unit: 'px', min: -200, max: 200, step: 0.5, help: 'Moves it down; less than nought, up.' })
  down = 0;

  @NumberSetting({ label: 'Turn', unit: '°', min: -10, max: 10, step: 0.05, help: 'Turns it about its middle, clockwise.' })
  turn = 0;
}

export const torn: Treatment<TornSettings> = {
  id: 'torn',
  version: 2,
  name: 'Torn halves',
  answers: 'two pieces on one scan',
  settings: TornSettings,
  order: [
    { after: 'crop', text: 'The pieces are told from the ground round them, which a crop may have taken. Move Torn halves above Crop.' },
    { after: 'dirt', text: 'The tear would be taken for damage. Move Torn halves above Dirt.' },
  ],
  suits: ({ frames }) => frames === 1,
  output: (input) => input,
  needs: () => ({ ...NO_NEEDS, whole: true }),
  networks: ({ quality }) => (quality === 'best' ? ['heal'] : []),
  propose: () => undefined,
  draft: (s) => ({ ...s, quality: 'fast' }),
  summary: ({ right, down, turn }) =>
    right || down || turn ? `moved ${right}, ${down} px, turned ${turn}° by hand` : 'laid together where their edges meet',
  async apply([source], settings, { output, asked, share }) {
    const joined = await share(() => joinHalves(source, settings, settings.quality));
    if (!joined)
      throw new PlanError(
        'Torn halves: there are not two pieces of paper before an even ground whose edges meet. Scan them apart from one another and from the borders.',
      );
    return { ...cutPicture(joined, asked), info: output };
  },
};
