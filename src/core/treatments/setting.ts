import 'reflect-metadata';
import { plainToInstance } from 'class-transformer';
import { IsBoolean, IsIn, IsInt, IsNumber, Matches, Max, Min, validateSync } from 'class-validator';
import { COLOUR, CORNERS, CURVE, LAID_PICTURE } from '../../shared/settings';
import { FACE_AMOUNTS } from '../../shared/faceAmounts';
import { FACE_REFERENCES } from '../../shared/faceReferences';

/** One setting of a treatment as forms and documents need it. */
export interface SettingSpec {
  key: string;
  /**
   * `colour` is picked from the picture, `curve` drawn over its histogram, `corners` dragged on it, `picture` chosen among the collection's, `faces` set
   * face by face; all are
   * words, see `shared/settings.ts`.
   */
  kind: 'number' | 'choice' | 'flag' | 'colour' | 'curve' | 'corners' | 'picture' | 'faces' | 'references';
  label: string;
  /** Heading it stands under, with those round it of the same one. */
  group?: string;
  /** What it does, and what too much of it looks like. */
  help: string;
  /** Unit shown after the number: px, fr, σ, %, cm. */
  unit?: string;
  min?: number;
  max?: number;
  step?: number;
  whole?: boolean;
  options?: { value: string; label: string }[];
  default: unknown;
  /** Shown only while another setting has one of these values. */
  when?: { key: string; is: string[] };
  /** Of no use for a still, and not shown there. */
  moving?: true;
}

type Constructor<S extends object = object> = new () => S;
type Given = Omit<SettingSpec, 'key' | 'kind' | 'default'>;

const specs = new Map<object, Omit<SettingSpec, 'default'>[]>();

function register(kind: SettingSpec['kind'], given: Given, checks: PropertyDecorator[]): PropertyDecorator {
  return (target, key) => {
    const list = specs.get(target) ?? [];
    list.push({ ...given, key: String(key), kind });
    specs.set(target, list);
    for (const check of checks) check(target, key);
  };
}

/** A number between `min` and `max`; whole when `whole` says so. */
export function NumberSetting(given: Given & { min: number; max: number; step: number }): PropertyDecorator {
  const bound = { message: `${given.label} must lie between ${given.min} and ${given.max}` };
  return register('number', given, [given.whole ? IsInt() : IsNumber(), Min(given.min, bound), Max(given.max, bound)]);
}

/** One of a few named values. */
export function ChoiceSetting(given: Given & { options: { value: string; label: string }[] }): PropertyDecorator {
  return register('choice', given, [IsIn(given.options.map((o) => o.value))]);
}

/** On or off. */
export function FlagSetting(given: Given): PropertyDecorator {
  return register('flag', given, [IsBoolean()]);
}

/** A colour that is picked from the picture the step reads; empty where none is. */
export function ColourSetting(given: Given): PropertyDecorator {
  return register('colour', given, [Matches(COLOUR, { message: `${given.label} must be empty or # and twelve hexadecimal digits` })]);
}

/** A curve over codes; empty for a straight line. */
export function CurveSetting(given: Given): PropertyDecorator {
  return register('curve', given, [
    Matches(CURVE, { message: `${given.label} must be empty or 2 to 12 points such as "0,0 0.5,0.6 1,1", from left to right` }),
  ]);
}

/** Four corners that are dragged on the picture the step reads; empty for those of the picture. */
export function CornersSetting(given: Given): PropertyDecorator {
  return register('corners', given, [
    Matches(CORNERS, { message: `${given.label} must be empty or four points from the upper left one clockwise` }),
  ]);
}

/** Another picture that is laid into this one, by the name it is kept under; empty for none. */
export function PictureSetting(given: Given): PropertyDecorator {
  return register('picture', given, [Matches(LAID_PICTURE, { message: `${given.label} must be empty or the SHA-256 of a picture` })]);
}

/** How much each face gets; empty where all get the same. */
export function FacesSetting(given: Given): PropertyDecorator {
  return register('faces', given, [Matches(FACE_AMOUNTS, { message: `${given.label} must be empty or faces such as "0.31,0.22,50"` })]);
}

/** The pictures that each face is restored by; empty where there are none. */
export function ReferencesSetting(given: Given): PropertyDecorator {
  return register('references', given, [
    Matches(FACE_REFERENCES, { message: `${given.label} must be empty or faces such as "0.31,0.22=" and the names of pictures` }),
  ]);
}

/** The settings of a class in the order they are written, with their defaults. */
export function settingSpecs(type: Constructor): SettingSpec[] {
  const defaults = new type() as Record<string, unknown>;
  return (specs.get(type.prototype as object) ?? []).map((spec) => ({ ...spec, default: defaults[spec.key] }));
}

/** Settings whose numbers are held within their bounds. */
export function withinBounds(type: Constructor, given: Record<string, unknown>): Record<string, unknown> {
  const held = { ...given };
  for (const { key, min = -Infinity, max = Infinity } of settingSpecs(type)) {
    const value = held[key];
    if (typeof value === 'number') held[key] = Math.min(max, Math.max(min, value));
  }
  return held;
}

/**
 * A settings object from untrusted JSON: defaults where nothing is given, unknown names and values out of bounds refused.
 * @returns the settings, or what is wrong in words.
 */
export function readSettings<S extends object>(type: Constructor<S>, given: unknown): { settings: S } | { problems: string[] } {
  if (typeof given !== 'object' || given === null || Array.isArray(given)) return { problems: ['settings must be an object'] };
  const settings = plainToInstance(type, given);
  const errors = validateSync(settings, { whitelist: true, forbidNonWhitelisted: true });
  if (errors.length) return { problems: errors.flatMap((e) => Object.values(e.constraints ?? { unknown: `${e.property} is wrong` })) };
  return { settings };
}
