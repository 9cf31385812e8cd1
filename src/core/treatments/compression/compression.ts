import { LIKELY } from '../../condition/report';
import { shrinkGrain } from '../../kernels/shrink';
import { codingNoise, windowBorder } from '../noise';
import { movingNetworks, QualitySetting, type Quality } from '../quality';
import { NumberSetting } from '../setting';
import { finerDepth, NO_NEEDS, type Treatment } from '../treatment';

export class CompressionSettings {
  @QualitySetting()
  quality: Quality = 'fast';

  @NumberSetting({
    label: 'Quantiser step',
    unit: 'q',
    min: 0,
    max: 64,
    step: 0.5,
    help: 'How coarsely the picture was coded: 4 for a good disc, 20 and more for small files. Set higher than it is, surfaces turn smooth and small detail goes.',
  })
  coding = 12;

  @NumberSetting({ label: 'Keep', unit: '%', min: 0, max: 100, step: 1, help: 'Share of what would be taken off that is left in.' })
  keep = 0;
}

/** Quantiser steps from which the step is offered, from which it is switched on, and from which where a still's file tells it. */
const OFFERED = 6,
  COARSE = 10,
  TOLD = 2;

export const compression: Treatment<CompressionSettings> = {
  id: 'compression',
  version: 3,
  name: 'Compression',
  answers: 'blocks and mosquito noise',
  settings: CompressionSettings,
  inPlace: true,
  order: [{ after: 'grain', text: 'Blocks are harder to tell once the grain is off. Move it above Grain.' }],
  suits: () => true,
  output: (input) => ({ ...input, depth: finerDepth(input) }),
  needs: (_, input) => ({ ...NO_NEEDS, border: windowBorder(input), grid: 16 }),
  networks: ({ quality }, input) => (quality === 'fast' ? [] : input.frames > 1 ? movingNetworks(input) : ['clean']),
  steering: ({ quality, coding, keep }, input) => {
    const share = 1 - keep / 100;
    return quality === 'best' ? { steering: { step: coding }, share: { luma: share, chroma: share }, moving: input.frames > 1 } : undefined;
  },
  propose: ({ measurements: m }) => {
    const from = m.scan === 'still' && m.codingTold ? TOLD : COARSE;
    if (m.coding < Math.min(from, OFFERED)) return undefined;
    return { on: m.coding >= from && m.codingConfidence >= LIKELY, settings: { coding: Math.round(m.coding * 2) / 2 } };
  },
  draft: (s) => ({ ...s, quality: 'fast' }),
  coarse: () => 'leave',
  summary: (s) => `quantiser step ${s.coding.toFixed(1)}${s.keep ? `, ${s.keep} % kept` : ''}`,
  apply: ([source], settings, { input, output }) => {
    const planes = source.planes.map((plane, index) =>
      settings.coding === 0 || settings.keep === 100
        ? plane
        : shrinkGrain(
            plane,
            [],
            { blockWidth: 16, blockHeight: 16 },
            {
              ...codingNoise(settings.coding, input.frames > 1, index > 0),
              step: 2,
              threshold: 2.2,
              trust: 10,
              keep: settings.keep / 100,
            },
          ),
    );
    return { info: output, region: source.region, planes };
  },
};
