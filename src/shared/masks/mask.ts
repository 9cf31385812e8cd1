import 'reflect-metadata';
import { plainToInstance, Type } from 'class-transformer';
import {
  ArrayMaxSize,
  ArrayMinSize,
  IsArray,
  IsBoolean,
  IsIn,
  IsNumber,
  Matches,
  Max,
  Min,
  validateSync,
  ValidateNested,
  type ValidationError,
} from 'class-validator';

/** Most parts of a mask, and corners of a polygon. */
const MAX_PARTS = 32,
  MAX_CORNERS = 256;

/** A place or a distance in fractions of the source's width or height; shapes may reach beyond the frame. */
const Fraction =
  (min = -2, max = 3): PropertyDecorator =>
  (target, key) => {
    for (const check of [IsNumber(), Min(min), Max(max)]) check(target, key);
  };

export class Point {
  @Fraction() x = 0;
  @Fraction() y = 0;
}

/** An oval or a box, turned about its middle. */
export class RoundShape {
  @IsIn(['oval', 'box']) kind: 'oval' | 'box' = 'oval';
  @Fraction() x = 0;
  @Fraction() y = 0;
  @Fraction(0.001, 4) width = 1;
  @Fraction(0.001, 4) height = 1;
  /** Degrees, clockwise as seen. */
  @Fraction(-360, 360) turn = 0;
}

export class PolygonShape {
  @IsIn(['polygon']) kind = 'polygon' as const;

  @IsArray()
  @ArrayMinSize(3)
  @ArrayMaxSize(MAX_CORNERS)
  @ValidateNested({ each: true })
  @Type(() => Point)
  corners: Point[] = [];
}

/** Full up to `from`, nothing from `to` on, even in between. */
export class StraightShape {
  @IsIn(['straight']) kind = 'straight' as const;
  @ValidateNested() @Type(() => Point) from = new Point();
  @ValidateNested() @Type(() => Point) to = new Point();
}

/** Full in the middle, nothing from its edge on, even in between. */
export class RadialShape {
  @IsIn(['radial']) kind = 'radial' as const;
  @Fraction() x = 0;
  @Fraction() y = 0;
  @Fraction(0.001, 4) width = 1;
  @Fraction(0.001, 4) height = 1;
  /** Share of the way to its edge that is full. */
  @Fraction(0, 1) core = 0;
}

/** Painted by hand, at the resolution of the source. */
export class PaintedShape {
  @IsIn(['painted']) kind = 'painted' as const;
  /** Its document, see `painted.ts`. */
  @Matches(/^[0-9a-f]{64}$/, { message: 'a painted part names its document by its SHA-256' }) document = '';
  /** How far it was moved since. */
  @Fraction() x = 0;
  @Fraction() y = 0;
}

export type Shape = RoundShape | PolygonShape | StraightShape | RadialShape | PaintedShape;
export type ShapeKind = Shape['kind'];

const SHAPES = [
  { name: 'oval', value: RoundShape },
  { name: 'box', value: RoundShape },
  { name: 'polygon', value: PolygonShape },
  { name: 'straight', value: StraightShape },
  { name: 'radial', value: RadialShape },
  { name: 'painted', value: PaintedShape },
];

export type Combine = 'add' | 'subtract' | 'intersect';

export class MaskPart {
  @ValidateNested()
  @Type(() => Object, { keepDiscriminatorProperty: true, discriminator: { property: 'kind', subTypes: SHAPES } })
  shape: Shape = new RoundShape();

  /** What it does to the parts before it. */
  @IsIn(['add', 'subtract', 'intersect']) combine: Combine = 'add';
}

/** Where a step works or a branch is seen: parts in the source, each added to those before, taken from them, or kept in common with them. */
export class Mask {
  @IsArray()
  @ArrayMinSize(1)
  @ArrayMaxSize(MAX_PARTS)
  @ValidateNested({ each: true })
  @Type(() => MaskPart)
  parts: MaskPart[] = [];

  /** Everywhere but there. */
  @IsBoolean() inverse = false;

  /** Width of the soft edge of drawn and painted parts as a share of the source's height; gradients have their own. */
  @Fraction(0, 0.5) feather = 0.02;

  /** How far it works where it works, in percent. */
  @Fraction(0, 100) opacity = 100;
}

/** A mask from untrusted JSON, or what is wrong in words. */
export function readMask(given: unknown): { mask: Mask } | { problems: string[] } {
  if (typeof given !== 'object' || given === null || Array.isArray(given)) return { problems: ['a mask must be an object'] };
  const kinds: unknown = (given as { parts?: unknown }).parts;
  const unknown = Array.isArray(kinds) ? (kinds as unknown[]).find((part) => !SHAPES.some(({ name }) => name === kindOf(part))) : undefined;
  if (unknown !== undefined) return { problems: [`mask: there is no shape "${String(kindOf(unknown))}"`] };
  const mask = plainToInstance(Mask, given);
  const errors = validateSync(mask, { whitelist: true, forbidNonWhitelisted: true, forbidUnknownValues: true });
  const words = (e: ValidationError): string[] => [...Object.values(e.constraints ?? {}), ...(e.children ?? []).flatMap(words)];
  if (errors.length) return { problems: errors.flatMap(words).map((w) => `mask: ${w}`) };
  if (mask.parts[0].combine !== 'add') return { problems: ['mask: the first part has nothing before it to be combined with'] };
  return { mask };
}

const kindOf = (part: unknown): unknown => (part as { shape?: { kind?: unknown } } | null)?.shape?.kind;

/** Documents of the painted parts of a mask. */
export const paintedOf = (mask: Mask | undefined): string[] =>
  (mask?.parts ?? []).flatMap(({ shape }) => (shape.kind === 'painted' ? [shape.document] : []));
