import { colourParts } from '../../../shared/settings';
import { blurPlane } from '../../kernels/blur';
import { codesOfColour } from '../../picture/matrix';
import { newPlane, planeRegion, type Picture, type Plane, type Region } from '../../picture/picture';
import { ChoiceSetting, ColourSetting, NumberSetting } from '../setting';
import { NO_NEEDS, type Treatment } from '../treatment';

export class RedactSettings {
  @ChoiceSetting({
    label: 'Way',
    options: [
      { value: 'blocks', label: 'blocks' },
      { value: 'blur', label: 'blur' },
      { value: 'fill', label: 'fill' },
    ],
    help: 'Each takes away for good what was there. Blur is that of the blocks: from a plain blur faces have been made out again.',
  })
  way: 'blocks' | 'blur' | 'fill' = 'blocks';

  @NumberSetting({
    label: 'Blocks',
    unit: 'px',
    min: 4,
    max: 400,
    step: 1,
    whole: true,
    help: 'Side of a block in pixels of the source. A face of fewer than eight blocks cannot be told any more.',
    when: { key: 'way', is: ['blocks', 'blur'] },
  })
  size = 32;

  @ColourSetting({ label: 'Colour', help: 'What is filled with; black where none is picked.', when: { key: 'way', is: ['fill'] } })
  colour = '';
}

export const redact: Treatment<RedactSettings> = {
  id: 'redact',
  version: 1,
  name: 'Redact',
  answers: 'what must not be recognised',
  settings: RedactSettings,
  inPlace: true,
  suits: ({ fieldOrder }) => fieldOrder === 'progressive',
  output: (input) => input,
  needs: ({ way, size }) => ({ ...NO_NEEDS, border: way === 'fill' ? 0 : way === 'blocks' ? size : 3 * size }),
  propose: () => undefined,
  summary: ({ way, size }) => (way === 'fill' ? 'filled' : `${way === 'blur' ? 'blurred' : 'blocks'}, ${size} px`),
  apply([source], settings, { output, region }) {
    const planes = source.planes.map((plane, index) => redacted(source, plane, index, region, settings));
    return { info: output, region, planes };
  },
};

function redacted(source: Picture, plane: Plane, index: number, region: Region, { way, size, colour }: RedactSettings): Plane {
  const { info } = source;
  const wanted = planeRegion(info, index, region);
  if (way === 'fill') return newPlane(wanted.width, wanted.height, codesOfColour(info, colour ? colourParts(colour) : [0, 0, 0])[index]);
  const own = planeRegion(info, index, source.region);
  const side = { x: Math.max(1, size >> (index ? info.chromaShiftX : 0)), y: Math.max(1, size >> (index ? info.chromaShiftY : 0)) };
  if (way === 'blocks') return inBlocks(plane, own, wanted, side);
  // One block farther on every side, so that what is blurred is blocks too.
  const blocks = inBlocks(plane, own, own, side);
  return blurPlane(blocks, own, wanted, side.x / 2, 1);
}

/** Blocks that lie on a raster of the frame, each the mean of what is there of it. */
function inBlocks(plane: Plane, own: Region, wanted: Region, side: { x: number; y: number }): Plane {
  const out = newPlane(wanted.width, wanted.height);
  const first = (at: number, step: number): number => Math.floor(at / step) * step;
  for (let top = first(wanted.y, side.y); top < wanted.y + wanted.height; top += side.y) {
    for (let left = first(wanted.x, side.x); left < wanted.x + wanted.width; left += side.x) {
      const x0 = Math.max(left, own.x),
        x1 = Math.min(left + side.x, own.x + own.width),
        y0 = Math.max(top, own.y),
        y1 = Math.min(top + side.y, own.y + own.height);
      let sum = 0;
      for (let y = y0; y < y1; y++) for (let x = x0; x < x1; x++) sum += plane.data[(y - own.y) * plane.width + x - own.x];
      const mean = Math.round(sum / ((x1 - x0) * (y1 - y0)));
      const right = Math.min(x1, wanted.x + wanted.width),
        from = Math.max(x0, wanted.x);
      for (let y = Math.max(y0, wanted.y); y < Math.min(y1, wanted.y + wanted.height); y++) {
        const row = (y - wanted.y) * wanted.width - wanted.x;
        if (right > from) out.data.fill(mean, row + from, row + right);
      }
    }
  }
  return out;
}
