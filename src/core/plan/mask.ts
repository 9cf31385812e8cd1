import 'reflect-metadata';
import { plainToInstance, Type } from 'class-transformer';
import {
  ArrayMaxSize,
  ArrayMinSize,
  IsArray,
  IsBoolean,
  IsIn,
  IsNumber,
  Max,
  Min,
  validateSync,
  ValidateNested,
  type ValidationError,
} from 'class-validator';
import type { Region } from '../picture/picture';

/** Most areas of a mask. */
const MOST_AREAS = 32;

/** A part of the frame, its sizes and place in fractions of it; it may reach beyond. */
export class MaskArea {
  @IsIn(['oval', 'box'])
  shape: 'oval' | 'box' = 'oval';

  @IsNumber()
  @Min(-1)
  @Max(1)
  x = 0;

  @IsNumber()
  @Min(-1)
  @Max(1)
  y = 0;

  @IsNumber()
  @Min(0.001)
  @Max(2)
  width = 1;

  @IsNumber()
  @Min(0.001)
  @Max(2)
  height = 1;
}

/** Where a step works, in the frame it reads. */
export class Mask {
  @IsArray()
  @ArrayMinSize(1)
  @ArrayMaxSize(MOST_AREAS)
  @ValidateNested({ each: true })
  @Type(() => MaskArea)
  areas: MaskArea[] = [];

  /** Everywhere but in the areas. */
  @IsBoolean()
  outside = false;

  /** Width of the soft edge as a share of the frame's height. */
  @IsNumber()
  @Min(0)
  @Max(0.5)
  soft = 0.02;
}

/** A mask from untrusted JSON, or what is wrong in words. */
export function readMask(given: unknown): { mask: Mask } | { problems: string[] } {
  if (typeof given !== 'object' || given === null || Array.isArray(given)) return { problems: ['a mask must be an object'] };
  const mask = plainToInstance(Mask, given);
  const errors = validateSync(mask, { whitelist: true, forbidNonWhitelisted: true, forbidUnknownValues: true });
  const words = (e: ValidationError): string[] => [...Object.values(e.constraints ?? {}), ...(e.children ?? []).flatMap(words)];
  return errors.length ? { problems: errors.flatMap(words).map((w) => `mask: ${w}`) } : { mask };
}

/**
 * How far the step works at each pixel of a region, 0 to 1, row by row.
 *
 * @param frame size of the frame the step reads.
 */
export function maskValues(mask: Mask, frame: { width: number; height: number }, region: Region): Float32Array {
  const out = new Float32Array(region.width * region.height);
  const soft = Math.max(1, mask.soft * frame.height);
  for (const area of mask.areas) {
    const rx = (area.width * frame.width) / 2,
      ry = (area.height * frame.height) / 2;
    const cx = area.x * frame.width + rx,
      cy = area.y * frame.height + ry;
    for (let y = 0; y < region.height; y++) {
      const dy = Math.abs(region.y + y + 0.5 - cy);
      for (let x = 0; x < region.width; x++) {
        const dx = Math.abs(region.x + x + 0.5 - cx);
        // Pixels inside the edge: exact for a box, along the radius for an oval.
        const inside = area.shape === 'box' ? Math.min(rx - dx, ry - dy) : (1 - Math.hypot(dx / rx, dy / ry)) * Math.min(rx, ry);
        const value = Math.min(1, Math.max(0, 0.5 + inside / soft));
        const at = y * region.width + x;
        if (value > out[at]) out[at] = value;
      }
    }
  }
  if (mask.outside) for (let i = 0; i < out.length; i++) out[i] = 1 - out[i];
  return out;
}
