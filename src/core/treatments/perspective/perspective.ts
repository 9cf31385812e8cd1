import { cornersOf, type Corners } from '../../../shared/settings';
import type { StreamInfo } from '../../picture/picture';
import { isConvex, rectangleTo, sidesOf, trueShape, type Quadrilateral } from '../../warp/quadrilateral';
import { warped, warpedFrom, WARP_BORDER } from '../../warp/warp';
import { ChoiceSetting, CornersSetting, NumberSetting } from '../setting';
import { NO_NEEDS, PlanError, type Treatment } from '../treatment';

export class PerspectiveSettings {
  @CornersSetting({ label: 'Corners', help: 'The four corners of the paper. Drag them on the picture.' })
  corners = '';

  @ChoiceSetting({
    label: 'Paper',
    options: [
      { value: 'seen', label: 'as it is seen' },
      { value: '9:13', label: '9 x 13 cm' },
      { value: '10:15', label: '10 x 15 cm' },
      { value: '13:18', label: '13 x 18 cm' },
      { value: '1:1', label: 'square' },
      { value: '210:297', label: 'A4' },
      { value: 'own', label: 'width to height' },
    ],
    help: 'The true shape of the paper, lying or standing. As it is seen reckons it from the corners, the lens looking at the middle.',
  })
  shape: 'seen' | '9:13' | '10:15' | '13:18' | '1:1' | '210:297' | 'own' = 'seen';

  @NumberSetting({
    ...{ label: 'Width to height', unit: '', min: 0.1, max: 10, step: 0.001, when: { key: 'shape', is: ['own'] } },
    help: 'Width of the paper, divided by its height.',
  })
  ratio = 1.5;
}

/** Corners in pixels of the input. */
function quadrilateralOf({ corners }: PerspectiveSettings, { width, height }: StreamInfo): Quadrilateral {
  const given: Corners = cornersOf(corners);
  return given.map(({ x, y }) => ({ x: x * width, y: y * height })) as unknown as Quadrilateral;
}

/** Least side of the result in pixels. */
const LEAST = 16;

function outputSize(settings: PerspectiveSettings, input: StreamInfo): { width: number; height: number } {
  const corners = quadrilateralOf(settings, input);
  const sides = sidesOf(corners);
  const [short, long] = settings.shape.includes(':') ? settings.shape.split(':').map(Number) : [1, 1];
  const lies = sides.width >= sides.height;
  const ratio =
    settings.shape === 'seen' ? trueShape(corners, input) : settings.shape === 'own' ? settings.ratio : lies ? long / short : short / long;
  // The side that is too short for the shape is drawn out: nothing is thrown away.
  const wide = Math.max(sides.width, sides.height * ratio);
  const even = (v: number): number => Math.max(LEAST, 2 * Math.round(v / 2));
  return { width: even(wide), height: even(wide / ratio) };
}

function placeOf(settings: PerspectiveSettings, input: StreamInfo) {
  const { width, height } = outputSize(settings, input);
  return rectangleTo(quadrilateralOf(settings, input), width, height);
}

export const perspective: Treatment<PerspectiveSettings> = {
  id: 'perspective',
  version: 1,
  name: 'Perspective',
  answers: 'a print seen at a slant',
  settings: PerspectiveSettings,
  suits: ({ fieldOrder }) => fieldOrder === 'progressive',
  output: (input, settings) => {
    if (!isConvex(quadrilateralOf(settings, input)))
      throw new PlanError(
        'Perspective: the corners must run round the paper, from the upper left one clockwise, and none may be turned in.',
      );
    return { ...input, ...outputSize(settings, input) };
  },
  needs: () => ({ ...NO_NEEDS, border: WARP_BORDER }),
  regionAt: (region, settings, input) => warpedFrom(region, placeOf(settings, input), input),
  geometry: placeOf,
  // A scan is often meant to have its ground: whether it goes is for the restorer to say.
  propose: ({ measurements: { papers } }) => (papers?.length === 1 ? { on: false, settings: { corners: papers[0] } } : undefined),
  summary: (settings, input) => {
    const { width, height } = outputSize(settings, input);
    return settings.corners ? `${width} × ${height}, ${(width / height).toFixed(2)} : 1` : 'no corners yet';
  },
  apply: ([source], settings, { input, output, region }) => warped(source, region, placeOf(settings, input), output, 'edge'),
};
