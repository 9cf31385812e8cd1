import { withFinerChroma } from '../picture/chroma';
import { asColour } from '../picture/asColour';
import { type Picture, SIGMA_UNIT } from '../picture/picture';
import { mapSteps, type Plan } from '../../shared/plan';
import { readyStep } from './plan';

/** How far each pixel of a result is supported by the source: 255 wholly, 0 not at all. */
export interface EvidenceMap {
  width: number;
  height: number;
  /** Its lightness. */
  data: Uint8Array;
  /** Its colour; left out of monochrome results. */
  colour?: Uint8Array;
  /** How far it is the picture's own rather than another's; left out where no step lays another in. */
  own?: Uint8Array;
}

/** Codes of 255 a pixel must lie off what the source says for none of it to count as supported. */
const UNSUPPORTED = 40;
/** Codes of chroma off what the source says from which none of a colour counts as supported: colours are paler than lights are bright. */
const UNSUPPORTED_COLOUR = 24;

/** The same plan under settings with which none of its steps invents anything; undefined where none does anyway. */
export function supportedPlan(plan: Plan): Plan | undefined {
  let changed = false;
  const held = mapSteps(plan, (step) => {
    const { treatment, settings } = readyStep(step);
    const supported = step.on ? treatment.supported?.(settings) : undefined;
    changed ||= supported !== undefined;
    return supported ? { ...step, settings: { ...supported } } : step;
  });
  return changed ? held : undefined;
}

/** A plan with nothing of other pictures in it; undefined where none of its steps lays one in. */
export function ownPlan(plan: Plan): Plan | undefined {
  let changed = false;
  const own = mapSteps(plan, (step) => {
    const { treatment, settings } = readyStep(step);
    if (!step.on || !treatment.borrowed || !treatment.pictures?.(settings).length) return step;
    changed = true;
    return { ...step, settings: { ...treatment.borrowed(settings) } };
  });
  return changed ? own : undefined;
}

/**
 * @param supported the result of the same part from `supportedPlan`, of the same size.
 * @param own the same from `ownPlan`, where there is one.
 */
export function evidenceMap(result: Picture, supported: Picture, own?: Picture): EvidenceMap {
  const alike = (picture: Picture): Picture => withFinerChroma(asColour(picture, result.info), 0, 0);
  const whole = alike(result);
  const { data, colour } = likeness(own ? alike(own) : whole, alike(supported));
  const { width, height } = whole.planes[0];
  if (!own) return { width, height, data, ...(colour && { colour }) };
  const kept = likeness(whole, alike(own));
  return { width, height, data, ...(colour && { colour }), own: kept.data.map((v, i) => Math.min(v, kept.colour?.[i] ?? 255)) };
}

/** How far two pictures are alike in lightness and in colour: 255 wholly, 0 not at all. */
function likeness(
  { planes: [light, ...chroma] }: Picture,
  { planes: [light2, ...chroma2] }: Picture,
): Pick<EvidenceMap, 'data' | 'colour'> {
  const held = (off: number, most: number): number => Math.round(255 - Math.min(255, (255 * off) / (most * SIGMA_UNIT)));
  const data = Uint8Array.from(light.data, (v, i) => held(Math.abs(v - light2.data[i]), UNSUPPORTED));
  if (!chroma.length) return { data };
  const [cb, cr] = chroma;
  const off = (i: number): number => Math.hypot(cb.data[i] - chroma2[0].data[i], cr.data[i] - chroma2[1].data[i]);
  return { data, colour: Uint8Array.from(cb.data, (_, i) => held(off(i), UNSUPPORTED_COLOUR)) };
}

/** Share of a part that the source does not support, 0 to 1, in lightness or colour, or for it is another picture's, whichever says least. */
export function inventedShare({ data, colour, own }: EvidenceMap): number {
  const least = (v: number, i: number): number => Math.min(v, colour?.[i] ?? 255, own?.[i] ?? 255);
  return data.reduce((sum, v, i) => sum + 255 - least(v, i), 0) / (255 * Math.max(1, data.length));
}

/**
 * Pixels of a screen (four bytes each) in grey; in amber as far as their lightness is not supported, in blue as far as their colour is not, in green as far
 * as they are another picture's. The three are told apart by all eyes (after Okabe and Ito, 2008).
 */
export function paintEvidence(pixels: Uint8Array, map: EvidenceMap): void {
  const AMBER = [232, 140, 24],
    BLUE = [72, 120, 232],
    GREEN = [24, 150, 112];
  for (let i = 0; i < map.data.length; i++) {
    const p = 4 * i;
    const grey = 0.5 * (0.2126 * pixels[p] + 0.7152 * pixels[p + 1] + 0.0722 * pixels[p + 2]) + 24;
    const invented = 1 - map.data[i] / 255,
      coloured = 1 - (map.colour?.[i] ?? 255) / 255,
      borrowed = 1 - (map.own?.[i] ?? 255) / 255;
    for (let c = 0; c < 3; c++) {
      const tinted = grey + 0.7 * coloured * (BLUE[c] - grey);
      const added = tinted + invented * (AMBER[c] - tinted);
      pixels[p + c] = Math.round(added + borrowed * (GREEN[c] - added));
    }
  }
}
