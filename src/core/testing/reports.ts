import type { ConditionReport, Measurements } from '../condition/report';

/** A report of a faultless progressive picture, but for what is given. */
export const reportOf = (part: Partial<Measurements>): ConditionReport => ({
  measurements: {
    scan: 'progressive',
    fieldOrder: 'progressive',
    scanConfidence: 1,
    grainLuma: 0,
    grainChroma: 0,
    grainLumaLeast: part.grainLuma ?? 0,
    grainChromaLeast: part.grainChroma ?? 0,
    grainConfidence: 1,
    grainChromaConfidence: 1,
    codingConfidence: 1,
    grainSize: 0,
    grainSizeChroma: 0,
    monochrome: false,
    toned: false,
    bars: { left: 0, right: 0, top: 0, bottom: 0 },
    blocking: 1,
    coding: 0,
    blur: 0,
    ...part,
  },
  findings: [],
  sampled: [0],
});
