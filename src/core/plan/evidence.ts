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

/** @param supported the result of the same part from `supportedPlan`, of the same size. */
export function evidenceMap(result: Picture, supported: Picture): EvidenceMap {
  const [light, ...chroma] = withFinerChroma(result, 0, 0).planes;
  const [light2, ...chroma2] = withFinerChroma(asColour(supported, result.info), 0, 0).planes;
  const { width, height } = light;
  const held = (off: number, most: number): number => Math.round(255 - Math.min(255, (255 * off) / (most * SIGMA_UNIT)));
  const data = light.data.map((v, i) => held(Math.abs(v - light2.data[i]), UNSUPPORTED));
  const colour = chroma[0]?.data.map((v, i) =>
    held(Math.hypot(v - chroma2[0].data[i], chroma[1].data[i] - chroma2[1].data[i]), UNSUPPORTED_COLOUR),
  );
  return { width, height, data: Uint8Array.from(data), ...(colour && { colour: Uint8Array.from(colour) }) };
}

/** Share of a part that the source does not support, 0 to 1, in lightness or colour, whichever it supports less. */
export function inventedShare({ data, colour }: EvidenceMap): number {
  const least = (v: number, i: number): number => Math.min(v, colour?.[i] ?? 255);
  return data.reduce((sum, v, i) => sum + 255 - least(v, i), 0) / (255 * Math.max(1, data.length));
}

/** Pixels of a screen (four bytes each) in grey; in amber as far as their lightness is not supported, in blue as far as their colour is not. */
export function paintEvidence(pixels: Uint8Array, map: EvidenceMap): void {
  const AMBER = [232, 140, 24],
    BLUE = [72, 120, 232];
  for (let i = 0; i < map.data.length; i++) {
    const p = 4 * i;
    const grey = 0.5 * (0.2126 * pixels[p] + 0.7152 * pixels[p + 1] + 0.0722 * pixels[p + 2]) + 24;
    const invented = 1 - map.data[i] / 255,
      coloured = 1 - (map.colour?.[i] ?? 255) / 255;
    for (let c = 0; c < 3; c++) {
      const tinted = grey + 0.7 * coloured * (BLUE[c] - grey);
      pixels[p + c] = Math.round(tinted + invented * (AMBER[c] - tinted));
    }
  }
}
