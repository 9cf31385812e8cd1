import { SAME_PLACE, scaling } from '../../../shared/maps/place';
import {
  NEUTRAL_CHROMA,
  chromaGrid,
  growRegion,
  lumaLimits,
  newPlane,
  planeRegion,
  type Picture,
  type Region,
  type StreamInfo,
} from '../../picture/picture';
import { displayWidth } from '../../../shared/display';
import { ChoiceSetting, NumberSetting } from '../setting';
import { PlanError, type Treatment } from '../treatment';
import { resizeBorder, resizedFrom, resizedInfo, resizePicture } from '../upscale/upscale';

export class FitSettings {
  @ChoiceSetting({
    label: 'Shape',
    options: [
      { value: 'leave', label: 'leave' },
      { value: 'bars', label: 'add bars' },
      { value: 'fill', label: 'crop to fill' },
    ],
    help: "What to do where the picture's shape is not the frame's: nothing, black bars, or cutting what sticks out.",
  })
  mode: 'leave' | 'bars' | 'fill' = 'bars';

  @NumberSetting({ label: 'Frame width', unit: 'px', min: 16, max: 16_384, step: 2, whole: true, help: 'Width of the frame to fit.' })
  width = 1920;

  @NumberSetting({ label: 'Frame height', unit: 'px', min: 16, max: 16_384, step: 2, whole: true, help: 'Height of the frame to fit.' })
  height = 1080;
}

/** Where the picture, at its new size, lies in the frame. Offsets keep chroma samples whole. */
function placed(settings: FitSettings, input: StreamInfo): { size: { width: number; height: number }; x: number; y: number; grid: number } {
  const wide = displayWidth(input);
  const scales = [settings.width / wide, settings.height / input.height];
  const scale = settings.mode === 'bars' ? Math.min(...scales) : Math.max(...scales);
  const grid = chromaGrid(input);
  const onGrid = (v: number): number => grid * Math.round(v / grid);
  const size = { width: onGrid(wide * scale), height: onGrid(input.height * scale) };
  if (Math.abs(size.width - input.width) <= 1 && Math.abs(size.height - input.height) <= 1) {
    size.width = input.width;
    size.height = input.height;
  }
  return { size, x: onGrid((settings.width - size.width) / 2), y: onGrid((settings.height - size.height) / 2), grid };
}

const unscaled = (input: StreamInfo, size: { width: number; height: number }): boolean =>
  size.width === input.width && size.height === input.height && input.pixelAspect.num === input.pixelAspect.den;

/** The part of the picture, at its new size, that shows in `region` of the frame; at least one chroma sample. */
function shown(region: Region, at: ReturnType<typeof placed>): Region {
  const x = Math.min(at.size.width - at.grid, Math.max(0, region.x - at.x)),
    y = Math.min(at.size.height - at.grid, Math.max(0, region.y - at.y));
  return {
    x,
    y,
    width: Math.max(at.grid, Math.min(at.size.width, region.x + region.width - at.x) - x),
    height: Math.max(at.grid, Math.min(at.size.height, region.y + region.height - at.y) - y),
  };
}

export const fit: Treatment<FitSettings> = {
  id: 'fit',
  version: 2,
  name: 'Fit to frame',
  answers: 'another picture shape',
  settings: FitSettings,
  suits: () => true,
  output: (input, settings) => {
    if (settings.mode === 'leave') return input;
    if (input.fieldOrder !== 'progressive') throw new PlanError('Fit to frame would mix the two fields; put Deinterlace before it.');
    const at = placed(settings, input);
    const size = { width: settings.width, height: settings.height };
    return unscaled(input, at.size) ? { ...input, ...size } : { ...resizedInfo(input, at.size), ...size };
  },
  needs: (settings, input) => {
    const at = placed(settings, input);
    const border = settings.mode === 'leave' || unscaled(input, at.size) ? 0 : resizeBorder(input, at.size);
    return { before: 0, after: 0, border, grid: 2, whole: false };
  },
  regionAt: (region, settings, input) => {
    if (settings.mode === 'leave') return region;
    const at = placed(settings, input);
    return resizedFrom(shown(region, at), input, at.size);
  },
  geometry: (settings, input) => {
    if (settings.mode === 'leave') return SAME_PLACE;
    const { size, x, y } = placed(settings, input);
    const sx = input.width / size.width,
      sy = input.height / size.height;
    return scaling(sx, sy, -x * sx, -y * sy);
  },
  propose: () => ({ on: false, settings: {} }),
  summary: (s) =>
    s.mode === 'leave' ? 'shape left as it is' : `${s.width} × ${s.height}, ${s.mode === 'bars' ? 'bars' : 'cropped to fill'}`,
  apply: ([source], settings, context) => {
    if (settings.mode === 'leave') return source;
    const { input, output, region } = context;
    const at = placed(settings, input);
    const part = growRegion(shown(region, at), 0, at.grid, at.size);
    const scaledInfo = unscaled(input, at.size) ? input : resizedInfo(input, at.size);
    const inside = unscaled(input, at.size) ? source : resizePicture(source, { ...context, output: scaledInfo, region: part }, 0.5);
    return paste(inside, at, output, region);
  },
};

/** The frame's region with the picture in its place and black elsewhere. */
function paste(inside: Picture, at: { x: number; y: number }, output: StreamInfo, region: Region): Picture {
  const { black } = lumaLimits(output.colour.range);
  const planes = inside.planes.map((plane, index) => {
    const to = planeRegion(output, index, region);
    const own = planeRegion(inside.info, index, inside.region);
    const dx = (index ? at.x >> output.chromaShiftX : at.x) + own.x - to.x;
    const dy = (index ? at.y >> output.chromaShiftY : at.y) + own.y - to.y;
    const out = newPlane(to.width, to.height, index ? NEUTRAL_CHROMA : black);
    for (let y = Math.max(0, dy); y < Math.min(to.height, dy + plane.height); y++) {
      const x0 = Math.max(0, dx),
        x1 = Math.min(to.width, dx + plane.width);
      if (x1 > x0) out.data.set(plane.data.subarray((y - dy) * plane.width + x0 - dx, (y - dy) * plane.width + x1 - dx), y * to.width + x0);
    }
    return out;
  });
  return { info: output, region, planes };
}
