import { cellsCover } from '../../networks/cells';
import type { CleanRequest } from '../../networks/clean';
import { cleanMoving } from '../../networks/temporal';
import { cutPicture, type Picture, type StreamInfo } from '../../picture/picture';
import { QualitySetting, type Quality } from '../quality';
import { NumberSetting } from '../setting';
import { finerDepth, type ApplyContext, type Treatment } from '../treatment';
import { alignedWindow } from './align';
import { shrinkPicture } from './fast';

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
    when: { key: 'quality', is: ['fast'] },
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
    help: 'Frames before and after that help. More takes longer; 0 looks at each frame by itself and flickers.',
  })
  neighbours = 2;
}

/** Margins of the windows in samples of the coarsest plane, in luma pixels. */
const BORDER = 16;

/** Whether the neighbouring frames are looked at; always all four with the network. */
const moving = (s: GrainSettings, input: StreamInfo): boolean => input.frames > 1 && s.neighbours > 0;

const shareOf = (s: GrainSettings): CleanRequest['share'] => ({
  luma: s.luma > 0 ? 1 - s.keep / 100 : 0,
  chroma: s.chroma > 0 ? 1 - s.keep / 100 : 0,
});

export const grain: Treatment<GrainSettings> = {
  id: 'grain',
  name: 'Grain',
  answers: 'grain and noise',
  settings: GrainSettings,
  suits: () => true,
  output: (input) => ({ ...input, depth: finerDepth(input) }),
  needs: (settings, input) => {
    const near = moving(settings, input);
    const reach = !near ? 0 : settings.quality === 'best' ? 2 : settings.neighbours;
    return { before: reach, after: reach, border: BORDER, grid: 16, whole: near };
  },
  network: (s, input) => (s.quality === 'fast' ? undefined : moving(s, input) ? 'temporal' : 'clean'),
  steering: (s, input) =>
    grain.network?.(s, input) === 'clean' ? { steering: { grainLuma: s.luma, grainChroma: s.chroma }, share: shareOf(s) } : undefined,
  propose: ({ measurements: m }) => ({
    on: m.grainLuma >= 1.2 || m.grainChroma >= 1.5,
    settings: { luma: round(m.grainLuma), chroma: round(m.grainChroma), size: m.grainSize, chromaSize: m.grainSizeChroma },
  }),
  summary: (s, input) =>
    `luma ${s.luma.toFixed(1)}, chroma ${s.chroma.toFixed(1)}${moving(s, input) ? `, ${s.quality === 'best' ? 5 : 2 * s.neighbours + 1} frames` : ''}`,
  apply: (window, settings, context) =>
    settings.quality === 'fast' ? shrinkPicture(window, settings, context) : withNeighbours(window, settings, context),
};

/** The network looks at 4:2:0; finer chroma goes the fast way. */
async function withNeighbours(window: Picture[], settings: GrainSettings, context: ApplyContext): Promise<Picture> {
  const { asked, input, output, share } = context;
  const current = window[2];
  const aligned = share(() => alignedWindow(window));
  const cover = cellsCover(asked, input);
  const halved = input.chromaShiftX === 1 && input.chromaShiftY === 1;
  const middle = halved ? current : { ...current, planes: current.planes.slice(0, 1) };
  const frames = halved ? aligned : aligned.map((planes) => planes.slice(0, 1));
  const chroma = halved ? settings.chroma : 0;
  const result = await cleanMoving(frames, middle, { luma: settings.luma, chroma }, cover, 1 - settings.keep / 100);
  if (halved || current.planes.length === 1) return { ...result, info: output };
  const fast = share(() => shrinkPicture(window, { ...settings, luma: 0 }, context));
  return { info: output, region: cover, planes: [...result.planes, ...cutPicture(fast, cover).planes.slice(1)] };
}

const round = (v: number): number => Math.round(v * 10) / 10;
