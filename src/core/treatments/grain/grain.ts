import { LIKELY, type Measurements } from '../../condition/report';
import type { Share } from '../../networks/steering';
import type { StreamInfo } from '../../picture/picture';
import { windowBorder } from '../noise';
import { movingNetworks, QualitySetting, type Quality } from '../quality';
import { NumberSetting } from '../setting';
import { finerDepth, type Treatment } from '../treatment';
import { AROUND, shrinkPart, shrinkPicture } from './fast';
import { averageStanding, stillReach } from './standing';

const sigma = (label: string, help: string): PropertyDecorator => NumberSetting({ label, unit: 'σ', min: 0, max: 60, step: 0.1, help });

export class GrainSettings {
  @QualitySetting()
  quality: Quality = 'fast';

  @sigma('Luma', 'How strong the grain in the lightness is. Set higher than it is, cloth and skin turn to wax.')
  luma = 4;

  @sigma('Chroma', 'How strong the coloured noise is. Set higher than it is, small colours fade.')
  chroma = 4;

  @NumberSetting({
    label: 'Size',
    unit: 'px',
    min: 0,
    max: 1.6,
    step: 0.05,
    help: 'Radius of a grain: 0 for noise of single pixels, more for film grain and compressed noise. Too large leaves specks and blurs wide tones.',
  })
  size = 0;

  @NumberSetting({
    label: 'Chroma size',
    unit: 'px',
    min: 0,
    max: 1.6,
    step: 0.05,
    help: 'The same for the coloured noise, in pixels of the chroma planes.',
    when: { key: 'quality', is: ['fast'] },
  })
  chromaSize = 0;

  @NumberSetting({ label: 'Keep', unit: '%', min: 0, max: 100, step: 1, help: 'Share of the grain that is left in, for a natural look.' })
  keep = 10;

  @NumberSetting({
    label: 'Neighbours',
    unit: 'fr',
    min: 0,
    max: 2,
    step: 1,
    whole: true,
    moving: true,
    help: 'Frames before and after that help. More takes longer; 0 looks at each frame by itself and flickers.',
  })
  neighbours = 2;

  @NumberSetting({
    label: 'Where still',
    unit: 'fr',
    min: 0,
    max: 8,
    step: 1,
    whole: true,
    moving: true,
    help: 'Frames before and after that help where nothing moves. Fewer for hand-held shots that only seem to stand; less of the grain goes.',
  })
  still = 8;
}

/** Whether the neighbouring frames are looked at; always all four with the network. */
const moving = (s: GrainSettings, input: StreamInfo): boolean => input.frames > 1 && s.neighbours > 0;

const shareOf = (s: GrainSettings): Share => ({
  luma: s.luma > 0 ? 1 - s.keep / 100 : 0,
  chroma: s.chroma > 0 ? 1 - s.keep / 100 : 0,
});

export const grain: Treatment<GrainSettings> = {
  id: 'grain',
  version: 2,
  name: 'Grain',
  answers: 'grain and noise',
  settings: GrainSettings,
  inPlace: true,
  order: [
    { after: 'regrain', text: 'Grain is taken off after it was put back. Move Regrain below.' },
    { after: 'upscale', text: 'Grain is better taken off before it is enlarged. Move it above Upscale.' },
  ],
  suits: () => true,
  output: (input) => ({ ...input, depth: finerDepth(input) }),
  needs: (settings, input) => {
    const near = moving(settings, input);
    const reach = near ? Math.max(settings.neighbours, stillReach(input, settings.still)) : 0;
    return { before: reach, after: reach, border: near ? AROUND : windowBorder(input), grid: 16, whole: near };
  },
  networks: (s, input) => {
    if (s.quality === 'fast') return [];
    return moving(s, input) ? movingNetworks(input) : ['clean'];
  },
  steering: (s, input) => {
    if (s.quality === 'fast') return undefined;
    return {
      steering: { grainLuma: s.luma, grainChroma: s.chroma, grainSize: s.size },
      share: shareOf(s),
      moving: moving(s, input),
      still: s.still,
    };
  },
  propose: ({ measurements: m }, input) => {
    // Taking off what is not there turns texture to wax, which is worse than grain: of what is unsure, what it is at least.
    const sureLuma = m.grainConfidence >= LIKELY,
      sureChroma = m.grainChromaConfidence >= LIKELY;
    const unsureLuma = input.frames > 1 ? m.grainLumaLeast : mildly(m, input);
    const luma = sureLuma ? m.grainLuma : unsureLuma,
      chroma = sureChroma ? m.grainChroma : m.grainChromaLeast;
    return {
      on: luma >= (sureLuma ? 1.5 : MILD) || (sureChroma && chroma >= 2),
      settings: { luma: round(luma), chroma: round(chroma), size: m.grainSize, chromaSize: m.grainSizeChroma },
    };
  },
  draft: (s) => ({ ...s, quality: 'fast', neighbours: 0 }),
  coarse: () => 'leave',
  summary: (s, input) =>
    `luma ${s.luma.toFixed(1)}, chroma ${s.chroma.toFixed(1)}${moving(s, input) ? `, ${s.quality === 'best' ? 5 : 2 * s.neighbours + 1} frames` : ''}`,
  apply: (window, settings, { input, output, asked }) => {
    const current = window[(window.length - 1) / 2];
    if (moving(settings, input)) {
      const stilled = averageStanding(window, 2 * settings.neighbours + 1, settings);
      return { info: output, ...shrinkPart(stilled, current, asked, settings) };
    }
    return { info: output, region: current.region, planes: shrinkPicture(window, settings, input.frames > 1) };
  },
};

/** Least grain, in codes of 255, that is acted on where a reading is unsure. */
const MILD = 1;
/** The share of an unsure reading that stills are relieved of, and the most of it, in codes of 255. */
const UNSURE = { share: 0.5, most: 2.5 };
/** The most that is taken off for what grain is at least, where that cannot be told: below a confidence, or in a picture of a shorter side, in pixels. */
const UNTOLD = { most: 3, confidence: 0.5, side: 100 };

/**
 * How much of an unsure reading a still is relieved of: about half of it, and not much, costs texture next to nothing and keeps what may be grain from
 * being enlarged; or what it is at least. In a small picture texture of single pixels looks like strong grain to every measure.
 */
function mildly({ grainLuma, grainLumaLeast, grainConfidence }: Measurements, { width, height }: StreamInfo): number {
  const untold = grainConfidence < UNTOLD.confidence || Math.min(width, height) < UNTOLD.side;
  const least = untold ? Math.min(UNTOLD.most, grainLumaLeast) : grainLumaLeast;
  return Math.max(Math.min(UNSURE.most, UNSURE.share * grainLuma), least);
}

const round = (v: number): number => Math.round(v * 10) / 10;
