import type { ConditionReport, Measurements } from '../condition/report';

/** A report of a faultless progressive picture, but for what is given. */
export const reportOf = (part: Partial<Measurements>): ConditionReport => ({
  measurements: {
    scan: 'progressive',
    fieldOrder: 'progressive',
    scanConfidence: 1,
    grainLuma: 0,
    grainChroma: 0,
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
