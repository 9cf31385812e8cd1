import { stairBorder, withoutStairSteps } from '../../edges/stairSteps';
import { lumaOnly } from '../lumaOnly';
import { NumberSetting } from '../setting';
import { finerDepth, NO_NEEDS, type Treatment } from '../treatment';

export class StairStepSettings {
  @NumberSetting({ label: 'Size', unit: 'px', min: 0.5, max: 4, step: 0.1, help: 'How high a step is. Too large rounds corners.' })
  size = 1.5;

  @NumberSetting({ label: 'Strength', unit: '%', min: 0, max: 100, step: 1, whole: true, help: 'How much of the correction is applied.' })
  strength = 80;
}

export const stairsteps: Treatment<StairStepSettings> = {
  id: 'stairsteps',
  version: 1,
  name: 'Stair-steps',
  answers: 'jagged diagonals',
  settings: StairStepSettings,
  inPlace: true,
  order: [{ after: 'upscale', text: 'Steps are larger once they are enlarged. Move Stair-steps above Upscale, or set them larger.' }],
  suits: ({ fieldOrder }) => fieldOrder === 'progressive',
  output: (input) => ({ ...input, depth: finerDepth(input) }),
  needs: ({ size }) => ({ ...NO_NEEDS, border: stairBorder(size), grid: 2 }),
  propose: () => undefined,
  coarse: () => 'leave',
  summary: ({ size, strength }) => `steps of ${size.toFixed(1)} px, ${strength} %`,
  apply: ([source], { size, strength }, context) =>
    lumaOnly(source, context, (luma, own, region) => withoutStairSteps(luma, own, region, size, strength / 100)),
};
