import { composePlaces, scaling, type Projective } from '../../../shared/maps/place';
import type { StreamInfo } from '../../picture/picture';
import { warped, warpedFrom, WARP_BORDER, type Beyond } from '../../warp/warp';
import { ChoiceSetting, NumberSetting } from '../setting';
import { NO_NEEDS, type Treatment } from '../treatment';

export class TurnSettings {
  @ChoiceSetting({
    label: 'Quarter turns',
    options: [
      { value: '0', label: 'none' },
      { value: '90', label: 'right' },
      { value: '180', label: 'half' },
      { value: '270', label: 'left' },
    ],
    help: 'Turned as a whole, without any loss.',
  })
  quarters: '0' | '90' | '180' | '270' = '0';

  @ChoiceSetting({
    label: 'Mirrored',
    options: [
      { value: 'no', label: 'no' },
      { value: 'across', label: 'left, right' },
      { value: 'down', label: 'up, down' },
    ],
    help: 'For slides and negatives that lay on the glass the wrong way up.',
  })
  mirrored: 'no' | 'across' | 'down' = 'no';

  @NumberSetting({
    ...{ label: 'Level', unit: '°', min: -45, max: 45, step: 0.05 },
    help: 'Degrees it is turned clockwise, so that what should be level is.',
  })
  angle = 0;

  @ChoiceSetting({
    label: 'Edges',
    options: [
      { value: 'cut', label: 'cut' },
      { value: 'keep', label: 'keep all' },
    ],
    help: 'Cut leaves the largest picture without corners of nothing; all of it is kept with them.',
  })
  edges: 'cut' | 'keep' = 'cut';

  @ChoiceSetting({
    label: 'Beyond',
    options: [
      { value: 'white', label: 'white' },
      { value: 'black', label: 'black' },
      { value: 'edge', label: 'its edge' },
    ],
    help: 'What the corners are filled with.',
    when: { key: 'edges', is: ['keep'] },
  })
  beyond: Beyond = 'white';
}

interface Size {
  width: number;
  height: number;
}

const radians = (degrees: number): number => (degrees * Math.PI) / 180;

/** The largest upright rectangle within a turned one. */
function insideTurned({ width, height }: Size, angle: number): Size {
  const sin = Math.abs(Math.sin(radians(angle))),
    cos = Math.abs(Math.cos(radians(angle)));
  const long = Math.max(width, height),
    short = Math.min(width, height);
  if (short <= 2 * sin * cos * long || Math.abs(sin - cos) < 1e-9) {
    // Its corners touch the longer sides only.
    const half = short / 2;
    return width >= height ? { width: half / sin, height: half / cos } : { width: half / cos, height: half / sin };
  }
  const apart = cos * cos - sin * sin;
  return { width: (width * cos - height * sin) / apart, height: (height * cos - width * sin) / apart };
}

/** Size after the quarter turns, and of the result; in steps that keep pairs of chroma samples whole. */
function sizes({ quarters, angle, edges }: TurnSettings, input: Size): { upright: Size; output: Size } {
  const upright = quarters === '90' || quarters === '270' ? { width: input.height, height: input.width } : { ...input };
  if (angle === 0)
    return { upright: { width: upright.width, height: upright.height }, output: { width: upright.width, height: upright.height } };
  const sin = Math.abs(Math.sin(radians(angle))),
    cos = Math.abs(Math.cos(radians(angle)));
  const whole = { width: upright.width * cos + upright.height * sin, height: upright.width * sin + upright.height * cos };
  const wanted = edges === 'keep' ? whole : insideTurned(upright, angle);
  const even = (v: number): number => Math.max(16, edges === 'keep' ? 2 * Math.ceil(v / 2 - 1e-6) : 2 * Math.floor(v / 2 + 1e-6));
  return { upright, output: { width: even(wanted.width), height: even(wanted.height) } };
}

/** Quarter turns that keep a pixel's place whole: where the turned picture's pixels lie in the one before. */
const QUARTERS: Record<TurnSettings['quarters'], (upright: Size) => Projective> = {
  '0': () => [1, 0, 0, 0, 1, 0, 0, 0, 1],
  '90': ({ width }) => [0, 1, 0, -1, 0, width, 0, 0, 1],
  '180': ({ width, height }) => [-1, 0, width, 0, -1, height, 0, 0, 1],
  '270': ({ height }) => [0, -1, height, 1, 0, 0, 0, 0, 1],
};

/** Where the result's pixels lie in the input. */
export function turnedPlace(settings: TurnSettings, input: Size): Projective {
  const { upright, output } = sizes(settings, input);
  const { width, height } = upright;
  const sin = Math.sin(radians(settings.angle)),
    cos = Math.cos(radians(settings.angle));
  // Back by the angle about the middle.
  const level: Projective =
    settings.angle === 0
      ? [1, 0, 0, 0, 1, 0, 0, 0, 1]
      : ([
          ...[cos, sin, width / 2 - (cos * output.width) / 2 - (sin * output.height) / 2],
          ...[-sin, cos, height / 2 + (sin * output.width) / 2 - (cos * output.height) / 2],
          ...[0, 0, 1],
        ] as unknown as Projective);
  const mirror =
    settings.mirrored === 'no' ? scaling(1, 1) : settings.mirrored === 'across' ? scaling(-1, 1, width, 0) : scaling(1, -1, 0, height);
  return composePlaces(QUARTERS[settings.quarters](upright), composePlaces(mirror, level));
}

/** A quarter turn exchanges what is coarse sideways and downwards. */
const suitsChroma = ({ chromaShiftX, chromaShiftY }: StreamInfo): boolean => chromaShiftX === chromaShiftY;

export const turn: Treatment<TurnSettings> = {
  id: 'turn',
  version: 1,
  name: 'Turn',
  answers: 'what is crooked or mirrored',
  settings: TurnSettings,
  suits: (input) => input.fieldOrder === 'progressive' && suitsChroma(input),
  output: (input, settings) => ({ ...input, ...sizes(settings, input).output }),
  needs: () => ({ ...NO_NEEDS, border: WARP_BORDER }),
  regionAt: (region, settings, input) => warpedFrom(region, turnedPlace(settings, input), input),
  geometry: (settings, input) => turnedPlace(settings, input),
  level: 'angle',
  propose: () => undefined,
  summary: ({ quarters, mirrored, angle }) =>
    [
      quarters !== '0' && { '90': 'a quarter to the right', '180': 'half-way round', '270': 'a quarter to the left' }[quarters],
      mirrored !== 'no' && 'mirrored',
      angle !== 0 && `${angle}°`,
    ]
      .filter(Boolean)
      .join(', ') || 'as it lies',
  apply: ([source], settings, { input, output, region }) => warped(source, region, turnedPlace(settings, input), output, settings.beyond),
};
