import { scaling } from '../../../shared/maps/place';
import type { StreamInfo } from '../../picture/picture';
import { NumberSetting } from '../setting';
import { NO_NEEDS, PlanError, relabel, type Treatment } from '../treatment';

const side = (label: string): PropertyDecorator =>
  NumberSetting({
    label,
    unit: 'px',
    min: 0,
    max: 20_000,
    step: 2,
    whole: true,
    help: `Pixels taken off ${label.toLowerCase()}, rounded down to whole chroma samples.`,
  });

export class CropSettings {
  @side('Left') left = 0;
  @side('Right') right = 0;
  @side('Top') top = 0;
  @side('Bottom') bottom = 0;
}

/** Amounts that keep chroma samples, and the fields of interlaced frames, whole. */
function aligned(settings: CropSettings, input: StreamInfo): CropSettings {
  const x = 1 << input.chromaShiftX;
  const y = (1 << input.chromaShiftY) * (input.fieldOrder === 'progressive' ? 1 : 2);
  const down = (v: number, step: number): number => Math.floor(v / step) * step;
  return { left: down(settings.left, x), right: down(settings.right, x), top: down(settings.top, y), bottom: down(settings.bottom, y) };
}

export const crop: Treatment<CropSettings> = {
  id: 'crop',
  version: 1,
  name: 'Crop',
  answers: 'black bars, ragged edges',
  settings: CropSettings,
  fields: true,
  suits: () => true,
  output: (input, settings) => {
    const a = aligned(settings, input);
    const width = input.width - a.left - a.right,
      height = input.height - a.top - a.bottom;
    if (width < 16 || height < 16)
      throw new PlanError(
        `Crop leaves ${Math.max(0, width)} x ${Math.max(0, height)} px of ${input.width} x ${input.height}; at least 16 x 16 must stay.`,
      );
    return { ...input, width, height };
  },
  needs: () => NO_NEEDS,
  regionAt: (region, settings, input) => {
    const a = aligned(settings, input);
    return { ...region, x: region.x + a.left, y: region.y + a.top };
  },
  geometry: (settings, input) => {
    const a = aligned(settings, input);
    return scaling(1, 1, a.left, a.top);
  },
  propose: ({ measurements: { bars } }) => ({
    on: bars.left + bars.right + bars.top + bars.bottom > 0,
    settings: { ...bars },
  }),
  coarse: ({ left, right, top, bottom }, by) => ({ left: left / by, right: right / by, top: top / by, bottom: bottom / by }),
  summary: (settings, input) => {
    const a = aligned(settings, input);
    return a.left + a.right + a.top + a.bottom === 0
      ? 'nothing taken off'
      : `left ${a.left}, right ${a.right}, top ${a.top}, bottom ${a.bottom} px`;
  },
  apply: ([picture], _settings, { output, region }) => relabel(picture, output, region),
};
