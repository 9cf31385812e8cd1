import 'reflect-metadata';
import { ArrayMaxSize, IsArray, IsOptional, IsString, MaxLength } from 'class-validator';
import { ABOUT_LIMITS } from '../shared/about';
import type { AboutRequest } from '../shared/requests';

/** What is told of an item, see `bodies.ts`. */
export class AboutBody implements AboutRequest {
  @IsOptional()
  @IsString()
  @MaxLength(ABOUT_LIMITS.line)
  title?: string;

  @IsOptional()
  @IsArray()
  @ArrayMaxSize(ABOUT_LIMITS.people)
  @IsString({ each: true })
  @MaxLength(ABOUT_LIMITS.line, { each: true })
  people?: string[];

  @IsOptional()
  @IsString()
  @MaxLength(ABOUT_LIMITS.line)
  date?: string;

  @IsOptional()
  @IsString()
  @MaxLength(ABOUT_LIMITS.line)
  place?: string;

  @IsOptional()
  @IsString()
  @MaxLength(ABOUT_LIMITS.line)
  rights?: string;

  @IsOptional()
  @IsString()
  @MaxLength(ABOUT_LIMITS.caption)
  caption?: string;
}
