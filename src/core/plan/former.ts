import { plainToInstance } from 'class-transformer';
import { layOut } from '../graph/layout';
import { placeOf } from '../../shared/maps/place';
import type { StreamInfo } from '../picture/picture';
import { mapSteps, type Plan } from '../../shared/plan';
import { Mask, readMask, type MaskPart, type RoundShape } from '../../shared/masks/mask';

/** A mask of plans of version 1: ovals and boxes, in fractions of the frame its step reads. */
interface FormerMask {
  areas: { shape: 'oval' | 'box'; x: number; y: number; width: number; height: number }[];
  outside?: boolean;
  soft?: number;
}

/** A mask of version 1 in today's form; it still lies in the frame its step reads. */
export function readFormerMask(given: unknown): { mask: Mask } | { problems: string[] } {
  if (typeof given !== 'object' || given === null || Array.isArray(given)) return { problems: ['a mask must be an object'] };
  const { areas, outside = false, soft = 0.02, ...others } = given as FormerMask;
  const [other] = Object.keys(others);
  if (other) return { problems: [`mask: property ${other} should not exist`] };
  if (!Array.isArray(areas) || areas.length === 0) return { problems: ['mask: areas must be a list of one at least'] };
  return readMask({
    parts: areas.map(({ shape, ...place }) => ({ shape: { kind: shape, ...place }, combine: 'add' })),
    inverse: outside,
    feather: soft,
  });
}

/** A plan whose masks lie in the frames of their steps, with them in the source instead. A plan that cannot run keeps them as they are. */
export function anchorMasks(plan: Plan, source: StreamInfo): Plan {
  const places = placesOfSteps(plan, source);
  return mapSteps(plan, (step) => {
    const place = places(step.id);
    if (!step.mask || !place) return step;
    const { x, y, width, height } = place;
    const moved = (shape: RoundShape): RoundShape => ({
      ...shape,
      x: x + shape.x * width,
      y: y + shape.y * height,
      width: shape.width * width,
      height: shape.height * height,
    });
    const parts = step.mask.parts.map((part): MaskPart => ({ ...part, shape: moved(part.shape as RoundShape) }));
    return { ...step, mask: plainToInstance(Mask, { ...step.mask, parts, feather: step.mask.feather * height }) };
  });
}

/** Where the frames that steps read lie in the source, in fractions of it. */
function placesOfSteps(
  plan: Plan,
  source: StreamInfo,
): (id: string) => { x: number; y: number; width: number; height: number } | undefined {
  try {
    // A step that is off and masked leaves size and place as they are, so that it may be laid out like those that are on.
    const { nodes } = layOut(
      mapSteps(plan, (step) => (step.mask ? { ...step, on: true } : step)),
      source,
    );
    return (id) => {
      const node = nodes.get(id);
      if (!node) return undefined;
      const { x, y, width, height } = placeOf(node.geometry(0), { x: 0, y: 0, width: node.stream.width, height: node.stream.height });
      return { x: x / source.width, y: y / source.height, width: width / source.width, height: height / source.height };
    };
  } catch {
    return () => undefined;
  }
}
