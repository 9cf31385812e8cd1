import { ENLARGE_BORDER, resizePlane, type EnlargeOptions, type FineStart, type Mapping } from '../../kernels/enlarge';
import { lightTables, plainTables } from '../../picture/light';
import { changeMatrix, defaultMatrix } from '../../picture/matrix';
import { chromaSize, growRegion, planeRegion, type Picture, type Region, type StreamInfo } from '../../picture/picture';
import { BORDER, cellsCover } from '../../networks/cells';
import type { Content } from '../../networks/model';
import { QualitySetting, type Quality } from '../quality';
import { ChoiceSetting, NumberSetting } from '../setting';
import { enlargingFor, fineStart, nearestFactor } from './best';
import { finerDepth, NO_NEEDS, type ApplyContext, type Treatment } from '../treatment';
import { byFactor, byName, byPrint, NAMED_SIZES, type NamedSize } from './target';

export class UpscaleSettings {
  @QualitySetting()
  quality: Quality = 'fast';

  @ChoiceSetting({
    label: 'Content',
    options: [
      { value: 'live', label: 'live' },
      { value: 'drawn', label: 'drawn' },
      { value: 'print', label: 'print' },
    ],
    help: 'What is in the picture: live action and photographs, drawings and graphics, or a scan of a print. It decides how detail is supposed to look.',
    when: { key: 'quality', is: ['best'] },
  })
  content: Content = 'live';

  @ChoiceSetting({
    label: 'Target',
    options: [
      { value: 'factor', label: 'a factor' },
      ...Object.keys(NAMED_SIZES).map((value) => ({ value, label: value })),
      { value: 'print', label: 'a print' },
    ],
    help: "The size to reach. Named sizes keep the picture's shape: 4:3 material becomes 1440 x 1080 at 1080p.",
  })
  target: NamedSize | 'factor' | 'print' = '1080p';

  @NumberSetting({
    label: 'Factor',
    unit: '×',
    min: 0.1,
    max: 16,
    step: 0.05,
    help: 'Times the height of the source, with square pixels.',
    when: { key: 'target', is: ['factor'] },
  })
  factor = 2;

  @NumberSetting({
    label: 'Print width',
    unit: 'cm',
    min: 1,
    max: 300,
    step: 0.5,
    help: 'Width of the print.',
    when: { key: 'target', is: ['print'] },
  })
  width = 30;

  @NumberSetting({
    label: 'Resolution',
    unit: 'ppi',
    min: 36,
    max: 1200,
    step: 1,
    whole: true,
    help: 'Pixels an inch of the print; 300 for viewing in the hand.',
    when: { key: 'target', is: ['print'] },
  })
  ppi = 300;

  @NumberSetting({
    label: 'Edges',
    unit: '%',
    min: 0,
    max: 100,
    step: 1,
    help: 'How much slanting edges are smoothed along their direction. Too much rounds small letters and leaves.',
    when: { key: 'quality', is: ['fast'] },
  })
  edges = 50;

  @NumberSetting({
    label: 'Grain left',
    unit: 'σ',
    min: 0,
    max: 30,
    step: 0.1,
    help: 'Grain that is still in the picture and must not be enlarged. Set higher than it is, fine texture goes.',
    when: { key: 'quality', is: ['best'] },
  })
  grain = 0;

  @NumberSetting({
    label: 'Quantiser step left',
    unit: 'q',
    min: 0,
    max: 64,
    step: 0.5,
    help: 'Quantiser step of compression still in the picture. Set higher than it is, surfaces turn smooth.',
    when: { key: 'quality', is: ['best'] },
  })
  coding = 0;

  @NumberSetting({
    label: 'Blur left',
    unit: 'px',
    min: 0,
    max: 2,
    step: 0.05,
    help: 'Softness of the picture to be undone while it is enlarged. Too much draws outlines.',
    when: { key: 'quality', is: ['best'] },
  })
  blur = 0;
}

/** Size a setting asks for. */
export function upscaleSize(input: StreamInfo, s: UpscaleSettings): { width: number; height: number } {
  if (s.target === 'factor') return byFactor(input, s.factor);
  if (s.target === 'print') return byPrint(input, s.width, s.ppi);
  return byName(input, s.target);
}

/** The stream at another size with square pixels; from SD to HD the luma matrix changes too, as HD players expect. */
export function resizedInfo(input: StreamInfo, size: { width: number; height: number }): StreamInfo {
  const becomesHd = input.frames > 1 && input.colour.matrix === 'bt601' && defaultMatrix(size.height) === 'bt709';
  return {
    ...input,
    ...size,
    pixelAspect: { num: 1, den: 1 },
    depth: finerDepth(input),
    colour: becomesHd ? { ...input.colour, matrix: 'bt709' } : input.colour,
  };
}

/** Part of the input that a part of the output is made from, without the border. */
export function resizedFrom(region: Region, input: StreamInfo, size: { width: number; height: number }): Region {
  const sx = input.width / size.width,
    sy = input.height / size.height;
  const x = Math.floor(region.x * sx),
    y = Math.floor(region.y * sy);
  return {
    x,
    y,
    width: Math.min(input.width, Math.ceil((region.x + region.width) * sx)) - x,
    height: Math.min(input.height, Math.ceil((region.y + region.height) * sy)) - y,
  };
}

/** Border in luma pixels of the input: chroma, twice as coarse, needs twice the samples' worth; reductions widen it. */
export function resizeBorder(input: StreamInfo, size: { width: number; height: number }): number {
  const reach = Math.max(1, Math.ceil(Math.max(input.width / size.width, input.height / size.height)));
  return ENLARGE_BORDER * (1 << Math.max(input.chromaShiftX, input.chromaShiftY)) * reach;
}

const PLAIN: EnlargeOptions = { edges: 0, slack: 0.2, consistency: 0 };

/** The output's region of a picture at another size. */
export function resizePicture(source: Picture, { region, input, output }: ApplyContext, edges: number, fine?: FineStart): Picture {
  const planes = source.planes.map((plane, index) => {
    const [inSize, outSize] = index
      ? [chromaSize(input, input.width, input.height), chromaSize(output, output.width, output.height)]
      : [input, output];
    const map: Mapping = {
      x: { from: inSize.width, to: outSize.width, siting: index && input.frames > 1 ? 0.5 / (1 << input.chromaShiftX) : 0.5 },
      y: { from: inSize.height, to: outSize.height, siting: 0.5 },
    };
    const from = planeRegion(input, index, source.region),
      to = planeRegion(output, index, region);
    return index === 0
      ? resizePlane(plane, from, to, map, lightTables(input.colour.range, input.colour.transfer), {
          edges,
          slack: 0.1,
          consistency: 1,
          fine,
        })
      : resizePlane(plane, from, to, map, plainTables(), PLAIN);
  });
  const resized: Picture = { info: { ...output, colour: input.colour }, region, planes };
  return changeMatrix(resized, output.colour.matrix);
}

/** Cells the network has to enlarge for a part of the output. */
const networkCover = (region: Region, input: StreamInfo, size: { width: number; height: number }): Region =>
  cellsCover(growRegion(resizedFrom(region, input, size), resizeBorder(input, size), 1, input), input);

/** Factor of the network, none where the fast choice is taken or nothing grows. */
const bestFactor = (settings: UpscaleSettings, input: StreamInfo): 2 | 4 | undefined =>
  settings.quality === 'best' ? nearestFactor(input, upscaleSize(input, settings)) : undefined;

export const upscale: Treatment<UpscaleSettings> = {
  id: 'upscale',
  version: 3,
  name: 'Upscale',
  answers: 'too few pixels',
  settings: UpscaleSettings,
  order: [{ after: 'regrain', text: 'The grain that was put back is enlarged with the picture. Move Regrain below.' }],
  suits: () => true,
  output: (input, settings) => resizedInfo(input, upscaleSize(input, settings)),
  needs: (settings, input) => ({
    ...NO_NEEDS,
    border: bestFactor(settings, input) ? BORDER : resizeBorder(input, upscaleSize(input, settings)),
    grid: 2,
  }),
  regionAt: (region, settings, input) => {
    const size = upscaleSize(input, settings);
    return bestFactor(settings, input) ? networkCover(region, input, size) : resizedFrom(region, input, size);
  },
  // The plain enlargement that agrees with the source; damage the network was told of counts as added when it goes.
  supported: (settings) => (settings.quality === 'best' ? { ...settings, quality: 'fast', edges: 0 } : undefined),
  // At twice the size. The network goes over the input, and once more over its own fourfold; all else is done at the size reached.
  pacedWith: { target: 'factor' },
  effort: (settings, input) => {
    const factor = bestFactor(settings, input);
    const { width, height } = upscaleSize(input, settings);
    return factor ? (factor === 4 ? 5 : 1) : (width * height) / (4 * input.width * input.height);
  },
  networks: (settings, input) => {
    const factor = bestFactor(settings, input);
    if (!factor) return [];
    const enlarging = `enlarge-${enlargingFor(settings.content, input)}` as const;
    // Where the network was told of damage, the source is cleaned too, for the result to agree with.
    return settings.grain || settings.coding || settings.blur ? [enlarging, 'clean'] : [enlarging];
  },
  propose: (_report, input) => ({
    on: input.frames > 1 ? input.height < 1080 : Math.max(input.width, input.height) < 4000,
    settings: input.frames > 1 ? { target: '1080p' } : { target: 'factor', factor: 2 },
  }),
  draft: (s) => ({ ...s, quality: 'fast' }),
  coarse: () => 'leave',
  summary: (settings, input) => {
    const { width, height } = upscaleSize(input, settings);
    return `${width} × ${height}`;
  },
  apply: async ([source], settings, context) => {
    const { region, input } = context;
    const size = upscaleSize(input, settings);
    const factor = bestFactor(settings, input);
    if (!factor) return resizePicture(source, context, settings.edges / 100);
    const { fine, cleaned } = await fineStart(source, networkCover(region, input, size), factor, settings, input);
    return resizePicture(cleaned, context, 0, fine);
  },
};
