import 'reflect-metadata';
import {
  ArrayMaxSize,
  ArrayMinSize,
  IsArray,
  IsIn,
  IsInt,
  IsOptional,
  IsString,
  IsUUID,
  Max,
  MaxLength,
  Min,
  ValidateIf,
} from 'class-validator';
import { ABOUT_LIMITS } from '../shared/about';
import { MOST_FACES, type PersonRequest } from '../shared/requests';

/** What is said of people, see `bodies.ts`. */

/** Years that people are born and die in, as far as there were pictures of them. */
const YEARS = { first: 1500, last: 2200 };

export class PersonBody implements PersonRequest {
  @IsOptional()
  @IsString()
  @MaxLength(ABOUT_LIMITS.line)
  name?: string;

  @ValidateIf((_, value) => value !== null && value !== undefined)
  @IsInt({ message: 'A year is a whole number.' })
  @Min(YEARS.first)
  @Max(YEARS.last)
  born?: number | null;

  @ValidateIf((_, value) => value !== null && value !== undefined)
  @IsInt({ message: 'A year is a whole number.' })
  @Min(YEARS.first)
  @Max(YEARS.last)
  died?: number | null;
}

const ACTIONS = ['merge', 'move', 'dismiss', 'answer', 'forget', 'films', 'undo'] as const;
type Action = (typeof ACTIONS)[number];
const of =
  (...actions: Action[]) =>
  ({ action }: { action: Action }): boolean =>
    actions.includes(action);

/** Each action has what it needs; the others leave it out. */
export class PeopleBody {
  @IsIn(ACTIONS)
  action!: Action;

  @ValidateIf(of('merge'))
  @IsUUID()
  into!: string;

  @ValidateIf(of('merge'))
  @IsUUID()
  from!: string;

  @ValidateIf(of('move', 'dismiss'))
  @IsArray()
  @ArrayMinSize(1)
  @ArrayMaxSize(MOST_FACES)
  @IsUUID(undefined, { each: true })
  faces!: string[];

  @ValidateIf((body: PeopleBody) => body.action === 'move' && body.to !== null && body.to !== 'new')
  @IsUUID()
  to!: string | null;

  @ValidateIf(of('answer'))
  @IsUUID()
  a!: string;

  @ValidateIf(of('answer'))
  @IsUUID()
  b!: string;

  @ValidateIf(of('answer'))
  @IsIn(['same', 'different', 'unsure'])
  said!: 'same' | 'different' | 'unsure';

  @ValidateIf(of('forget'))
  @IsUUID()
  person!: string;
}
