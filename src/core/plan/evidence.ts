import { SIGMA_UNIT, type Plane } from '../picture/picture';
import { mapSteps, type Plan } from '../../shared/plan';
import { readyStep } from './plan';

/** How far each pixel of a result is supported by the source: 255 wholly, 0 not at all. */
export interface EvidenceMap {
  width: number;
  height: number;
  data: Uint8Array;
}

/** Codes of 255 a pixel must lie off what the source says for none of it to count as supported. */
const UNSUPPORTED = 40;

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
export function evidenceMap(result: Plane, supported: Plane): EvidenceMap {
  const { width, height } = result;
  const scale = 255 / (UNSUPPORTED * SIGMA_UNIT);
  const data = new Uint8Array(width * height);
  for (let i = 0; i < data.length; i++) data[i] = Math.round(255 - Math.min(255, Math.abs(result.data[i] - supported.data[i]) * scale));
  return { width, height, data };
}

/** Share of a part that the source does not support, 0 to 1. */
export function inventedShare(map: EvidenceMap): number {
  return map.data.reduce((sum, v) => sum + 255 - v, 0) / (255 * Math.max(1, map.data.length));
}

/** Pixels of a screen (four bytes each) in grey, and in amber as far as they are not supported. */
export function paintEvidence(pixels: Uint8Array, map: EvidenceMap): void {
  const AMBER = [232, 140, 24];
  for (let i = 0; i < map.data.length; i++) {
    const p = 4 * i;
    const grey = 0.5 * (0.2126 * pixels[p] + 0.7152 * pixels[p + 1] + 0.0722 * pixels[p + 2]) + 24;
    const invented = 1 - map.data[i] / 255;
    for (let c = 0; c < 3; c++) pixels[p + c] = Math.round(grey + invented * (AMBER[c] - grey));
  }
}
