import { colourParts } from '../../../shared/settings';
import type { Faces } from '../../faces/find';
import { mixPictures } from '../../graph/masked';
import { blurPlane } from '../../kernels/blur';
import { codesOfColour } from '../../picture/matrix';
import { newPlane, planeRegion, type Picture, type Plane, type Region } from '../../picture/picture';
import { ChoiceSetting, ColourSetting, NumberSetting } from '../setting';
import { NO_NEEDS, PlanError, type Treatment } from '../treatment';

export class RedactSettings {
  @ChoiceSetting({
    label: 'What',
    options: [
      { value: 'part', label: 'all, or a part' },
      { value: 'faces', label: 'found faces' },
    ],
    help: 'All of the picture, or the part that “Only in” says; or every face that is found in a still. Look whether none was missed.',
  })
  what: 'part' | 'faces' = 'part';

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
  output: (input, { what }) => {
    if (what === 'faces' && input.frames > 1)
      throw new PlanError('Redact: faces are found in stills. Of a film, say by “Only in” where they are.');
    return input;
  },
  reads: ({ what }) => (what === 'faces' ? ['faces'] : []),
  needs: ({ way, size }) => ({ ...NO_NEEDS, border: way === 'fill' ? 0 : way === 'blocks' ? size : 3 * size }),
  propose: () => undefined,
  summary: ({ what, way, size }) =>
    `${what === 'faces' ? 'faces ' : ''}${way === 'fill' ? 'filled' : `${way === 'blur' ? 'blurred' : 'in blocks'}, ${size} px`}`,
  found([source], { what }, { asked, analyses }) {
    const cover =
      what === 'faces' ? facesCover(analyses.faces as Faces, source, asked) : new Float32Array(asked.width * asked.height).fill(1);
    const count = what === 'faces' ? (analyses.faces as Faces).faces.length : 0;
    const share = cover.reduce((sum, v) => sum + v, 0) / cover.length;
    return Promise.resolve({ region: asked, mask: Uint8Array.from(cover), counts: [{ name: 'Faces in the picture', count }], share });
  },
  apply([source], settings, { output, region, analyses }) {
    const planes = source.planes.map((plane, index) => redacted(source, plane, index, region, settings));
    const made = { info: output, region, planes };
    if (settings.what !== 'faces') return made;
    return { ...mixPictures(source, made, facesCover(analyses.faces as Faces, source, region)), info: output };
  },
};

/** How much larger than a face what hides it is: hair, ears and chin tell who somebody is too. */
const GROWN = 1.5;

/** 1 where faces are, 0 elsewhere. */
function facesCover({ faces }: Faces, { info }: Picture, region: Region): Float32Array<ArrayBuffer> {
  const cover = new Float32Array(region.width * region.height);
  for (const { x, y, width, height } of faces) {
    const across = (GROWN * width * info.width) / 2,
      down = (GROWN * height * info.height) / 2;
    const left = Math.floor((x + width / 2) * info.width - across) - region.x,
      top = Math.floor((y + height / 2) * info.height - down) - region.y;
    const right = Math.min(region.width, Math.ceil(left + 2 * across));
    for (let row = Math.max(0, top); row < Math.min(region.height, Math.ceil(top + 2 * down)); row++)
      if (right > Math.max(0, left)) cover.fill(1, row * region.width + Math.max(0, left), row * region.width + right);
  }
  return cover;
}

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
