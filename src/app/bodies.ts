import 'reflect-metadata';
import { Type } from 'class-transformer';
import {
  ArrayMaxSize,
  IsArray,
  IsBoolean,
  IsIn,
  IsInt,
  IsISO8601,
  IsNotEmpty,
  IsNumber,
  IsObject,
  IsOptional,
  IsString,
  Matches,
  Max,
  MaxLength,
  Min,
  ValidateBy,
  ValidateNested,
} from 'class-validator';
import type { Place } from '../shared/maps/place';
import { MARK_LIMITS, readStroke, type StrokeMark } from '../shared/marks';
import type { Stroke, StrokePoint } from '../shared/masks/brush';
import {
  PROOF_LANES,
  type ApplyTemplateRequest,
  type CollectionRequest,
  type ItemTemplateRequest,
  type PaintRequest,
  type PlanRequest,
  type ProofLane,
  type ProofQuery,
  type SplitRequest,
  type StripFiguresRequest,
  type StripRequest,
  type StripUpdateRequest,
  type StrokesRequest,
  type TakeInRequest,
  type ReferencesRequest,
  type VersionNameRequest,
  type VersionRequest,
} from '../shared/requests';

/** Bodies of requests (`src/shared/requests.ts`), checked before anything is done with them. */

/** An object whose values are lists of words. */
const IsListsOfWords = (): PropertyDecorator =>
  ValidateBy({
    name: 'isListsOfWords',
    validator: {
      validate: (value: unknown): boolean =>
        typeof value === 'object' &&
        value !== null &&
        Object.values(value).every((list) => Array.isArray(list) && list.every((word) => typeof word === 'string')),
      defaultMessage: () => 'Fixed settings are listed by their names for each step.',
    },
  });

export class CollectionBody implements CollectionRequest {
  @IsString()
  @IsNotEmpty({ message: 'A collection needs a name.' })
  @MaxLength(200)
  name!: string;

  @IsOptional()
  @IsString()
  @MaxLength(2000)
  note?: string;

  @IsOptional()
  @IsISO8601()
  due?: string;
}

export class TakeInBody implements TakeInRequest {
  @IsString()
  @IsNotEmpty({ message: 'Name a folder or file on this machine.' })
  @MaxLength(4096)
  path!: string;
}

export class PlanBody implements PlanRequest<object> {
  @IsObject()
  plan!: object;

  @IsString()
  @MaxLength(300)
  change!: string;
}

export class VersionBody implements VersionRequest {
  @IsInt()
  @Min(1)
  version!: number;
}

export class VersionNameBody implements VersionNameRequest {
  @IsString()
  @MaxLength(80)
  name!: string;
}

/** A plan that becomes a template: which settings of each step stay as they are. */
export class ItemTemplateBody implements ItemTemplateRequest {
  @IsString()
  @MaxLength(80)
  name!: string;

  @IsString()
  @MaxLength(400)
  about!: string;

  @IsListsOfWords()
  fixed!: Record<string, string[]>;
}

export class ApplyTemplateBody implements ApplyTemplateRequest {
  @IsString()
  @MaxLength(80)
  template!: string;

  @IsArray()
  @ArrayMaxSize(10_000)
  @IsString({ each: true })
  items!: string[];

  /** Only says what would change. */
  @IsBoolean()
  preview!: boolean;
}

export class StripCandidateBody {
  @IsString()
  @MaxLength(80)
  label!: string;

  @IsObject()
  step!: object;
}

export class StripFiguresBody implements StripFiguresRequest {
  @IsOptional() @IsNumber() @Min(0) seconds!: number | null;
  @IsOptional() @IsNumber() @Min(0) edges!: number | null;
  @IsNumber() @Min(0) noise!: number;
  @IsNumber() @Min(0) @Max(1) invented!: number;
}

/** A part of a picture, as fractions of its width and height. */
export class PlaceBody implements Place {
  @IsNumber() @Min(-1) @Max(1) x!: number;
  @IsNumber() @Min(-1) @Max(1) y!: number;
  @IsNumber() @Min(0.00001) @Max(2) width!: number;
  @IsNumber() @Min(0.00001) @Max(2) height!: number;
}

export class FitBody {
  @IsInt() @Min(1) @Max(4096) width!: number;
  @IsInt() @Min(1) @Max(4096) height!: number;
}

export class StripBody implements StripRequest<object, object> {
  @IsObject()
  plan!: object;

  @IsString()
  @MaxLength(64)
  step!: string;

  @IsString()
  @MaxLength(120)
  about!: string;

  @IsInt()
  @Min(0)
  frame!: number;

  @ValidateNested()
  @Type(() => PlaceBody)
  region!: PlaceBody;

  @IsArray()
  @ArrayMaxSize(8)
  @ValidateNested({ each: true })
  @Type(() => StripCandidateBody)
  candidates!: StripCandidateBody[];
}

export class StripUpdateBody implements StripUpdateRequest {
  @IsOptional()
  @IsInt()
  @Min(0)
  chosen?: number;

  @IsOptional()
  @IsArray()
  @ArrayMaxSize(8)
  @ValidateNested({ each: true })
  @Type(() => StripFiguresBody)
  figures?: StripFiguresBody[];
}

export class ProofBody implements ProofQuery<object> {
  @IsObject()
  plan!: object;

  @IsInt()
  @Min(0)
  frame!: number;

  @ValidateNested()
  @Type(() => PlaceBody)
  region!: PlaceBody;

  @IsOptional()
  @IsString()
  @MaxLength(64)
  node?: string;

  @IsOptional()
  @IsBoolean()
  evidence?: boolean;

  @IsOptional()
  @IsString()
  @MaxLength(64)
  found?: string;

  @IsOptional()
  @IsBoolean()
  figures?: boolean;

  @IsOptional()
  @IsBoolean()
  draft?: boolean;

  @IsOptional()
  @IsBoolean()
  coarse?: boolean;

  @ValidateNested()
  @Type(() => FitBody)
  fit!: FitBody;

  @IsString()
  @MaxLength(80)
  viewer!: string;

  @IsInt()
  @Min(0)
  turn!: number;

  @IsIn(PROOF_LANES)
  lane!: ProofLane;
}

/** A point of a stroke, in fractions of the source. */
export class StrokePointBody implements StrokePoint {
  @IsNumber() @Min(-1) @Max(2) x!: number;
  @IsNumber() @Min(-1) @Max(2) y!: number;
  @IsNumber() @Min(0) @Max(1) pressure!: number;
}

/** A stroke of the brush; its size is a share of the source's height. */
export class StrokeBody implements Stroke {
  @IsArray()
  @ArrayMaxSize(10_000)
  @ValidateNested({ each: true })
  @Type(() => StrokePointBody)
  points!: StrokePointBody[];

  @IsNumber() @Min(0.0001) @Max(1) size!: number;
  @IsNumber() @Min(0) @Max(1) softness!: number;
  @IsNumber() @Min(0) @Max(1) flow!: number;
  @IsIn(['add', 'erase']) mode!: 'add' | 'erase';
}

export class PaintBody implements PaintRequest {
  /** Document that is painted on; an empty one when left out. */
  @IsOptional()
  @Matches(/^[0-9a-f]{64}$/)
  base?: string;

  @IsArray()
  @ArrayMaxSize(1000)
  @ValidateNested({ each: true })
  @Type(() => StrokeBody)
  strokes!: StrokeBody[];
}

/** A list of strokes whose entries `readStroke` takes. */
const AreStrokes = (): PropertyDecorator =>
  ValidateBy({
    name: 'areStrokes',
    validator: {
      validate: (value: unknown): boolean => Array.isArray(value) && value.every((mark) => 'mark' in readStroke(mark)),
      defaultMessage: (given) => {
        const wrong = Array.isArray(given?.value) ? given.value.map(readStroke).find((read) => 'problem' in read) : undefined;
        return wrong ? `A stroke cannot be read: ${wrong.problem}.` : 'Strokes come as a list.';
      },
    },
  });

export class StrokesBody implements StrokesRequest {
  @IsOptional()
  @Matches(/^[0-9a-f]{64}$/)
  base?: string;

  @ArrayMaxSize(MARK_LIMITS.changed)
  @AreStrokes()
  set!: StrokeMark[];

  @IsArray()
  @ArrayMaxSize(MARK_LIMITS.changed)
  @IsString({ each: true })
  remove!: string[];
}

export class ReferencesBody implements ReferencesRequest {
  @IsNumber() @Min(0) @Max(1) x!: number;
  @IsNumber() @Min(0) @Max(1) y!: number;

  @IsOptional()
  @IsInt()
  @Min(0)
  frame?: number;
}

export class SplitBody implements SplitRequest {
  /** First frame of the second half, of the item's source. */
  @IsInt()
  @Min(1)
  frame!: number;
}
