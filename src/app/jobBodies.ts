import 'reflect-metadata';
import { Type } from 'class-transformer';
import {
  IsBoolean,
  IsIn,
  IsInt,
  IsNumber,
  IsObject,
  IsOptional,
  IsString,
  Matches,
  Max,
  MaxLength,
  Min,
  ValidateNested,
} from 'class-validator';
import { STILL_ACCESS, STILL_SPACES, type JobOptions, type StillAccess, type StillSpace } from '../shared/jobs';
import { type Paper, PAPER_NAMES, PRINT_LIMITS, type PrintOptions } from '../shared/print';
import {
  JOB_ACTIONS,
  type JobAction,
  type JobActionRequest,
  type JobRequest,
  type QueueRequest,
  type SizeRequest,
} from '../shared/requests';

/** Bodies of requests about jobs and the queue, see `bodies.ts`. */

/** Bytes of the smallest access copy that can be asked for. */
const SMALLEST_ACCESS = 20_000;

class PrintBody implements PrintOptions {
  @IsNumber()
  @Min(PRINT_LIMITS.smallest)
  @Max(PRINT_LIMITS.largest)
  width!: number;

  @IsNumber()
  @Min(PRINT_LIMITS.smallest)
  @Max(PRINT_LIMITS.largest)
  height!: number;

  @IsIn(['whole', 'fill'])
  fit!: PrintOptions['fit'];

  @IsNumber()
  @Min(0)
  @Max(PRINT_LIMITS.bleed)
  bleed!: number;

  @IsOptional()
  @IsIn(PAPER_NAMES)
  paper?: Paper;
}

export class JobOptionsBody implements Partial<JobOptions> {
  @IsOptional()
  @IsString()
  @MaxLength(200)
  pattern?: string;

  @IsOptional()
  @IsBoolean()
  original?: boolean;

  @IsOptional()
  @IsBoolean()
  master?: boolean;

  @IsOptional()
  @IsBoolean()
  access?: boolean;

  @IsOptional()
  @IsIn(['tiff', 'png'])
  stillMaster?: 'tiff' | 'png';

  @IsOptional()
  @IsIn(STILL_SPACES)
  stillSpace?: StillSpace;

  @IsOptional()
  @IsIn(STILL_ACCESS)
  stillAccess?: StillAccess;

  @IsOptional()
  @IsInt()
  @Min(1)
  @Max(100)
  accessQuality?: number;

  @IsOptional()
  @IsInt()
  @Min(SMALLEST_ACCESS)
  accessUnder?: number;

  @IsOptional()
  @IsBoolean()
  namePlaces?: boolean;

  @IsOptional()
  @IsBoolean()
  sheet?: boolean;

  @IsOptional()
  @IsObject()
  @ValidateNested()
  @Type(() => PrintBody)
  print?: PrintBody;

  @IsOptional()
  @IsInt()
  @Min(36)
  @Max(2400)
  ppi?: number;
}

export class SizeBody implements SizeRequest<object> {
  @IsObject()
  plan!: object;

  @IsIn(STILL_ACCESS)
  kind!: StillAccess;

  @IsInt()
  @Min(1)
  @Max(100)
  quality!: number;

  @IsOptional()
  @IsInt()
  @Min(SMALLEST_ACCESS)
  under?: number;
}

/** What is to be done with a job in the queue. */
export class JobActionBody implements JobActionRequest {
  @IsIn(JOB_ACTIONS)
  action!: JobAction;

  /** Place among the jobs that have not ended, from 0; of a move. */
  @IsOptional()
  @IsInt()
  @Min(0)
  to?: number;
}

const TIME = /^([01]\d|2[0-3]):[0-5]\d$/;

/** Changes to the queue's settings; what is left out stays, null takes a bound away. */
export class QueueBody implements QueueRequest {
  @IsOptional()
  @IsBoolean()
  paused?: boolean;

  @IsOptional()
  @Matches(TIME, { message: 'Hours are written as 22:30.' })
  from?: string | null;

  @IsOptional()
  @Matches(TIME, { message: 'Hours are written as 22:30.' })
  to?: string | null;

  @IsOptional()
  @IsInt()
  @Min(1)
  @Max(256)
  threads?: number | null;

  @IsOptional()
  @IsNumber()
  @Min(1)
  @Max(4096)
  memory?: number | null;
}

export class JobBody extends JobOptionsBody implements JobRequest {
  @IsString()
  itemId!: string;
}
