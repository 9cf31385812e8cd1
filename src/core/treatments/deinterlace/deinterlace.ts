import { LIKELY } from '../../condition/report';
import { coarserMotion, fillFields, findFieldMotion } from '../../kernels/deinterlace';
import { evenTime, rational } from '../../../shared/maps/time';
import { cellsCover } from '../../networks/cells';
import { fillBest } from '../../networks/fields';
import { cutPicture, wholeRegion, type Picture, type Plane } from '../../picture/picture';
import { reduceRational } from '../../../shared/maps/rational';
import { QualitySetting, type Quality } from '../quality';
import { ChoiceSetting, FlagSetting } from '../setting';
import { NO_NEEDS, type Treatment } from '../treatment';

export class DeinterlaceSettings {
  @QualitySetting()
  quality: Quality = 'fast';

  @ChoiceSetting({
    label: 'Field order',
    options: [
      { value: 'top', label: 'top first' },
      { value: 'bottom', label: 'bottom first' },
    ],
    help: 'Which field was seen first. The wrong one makes motion jump back and forth.',
  })
  order: 'top' | 'bottom' = 'top';

  @ChoiceSetting({
    label: 'Rate',
    options: [
      { value: 'double', label: 'double' },
      { value: 'single', label: 'single' },
    ],
    help: 'Double makes a full frame of each field and keeps all the motion; single keeps every other one.',
  })
  rate: 'double' | 'single' = 'double';

  @FlagSetting({
    label: 'Follow motion',
    help: 'Looks for each part of the picture in the fields before and after. Off is quicker and softer where things move.',
    when: { key: 'quality', is: ['fast'] },
  })
  motion = true;

  @FlagSetting({
    label: 'Follow edges',
    help: 'Fills slanting edges along their direction. Off leaves them in steps.',
    when: { key: 'quality', is: ['fast'] },
  })
  edges = true;
}

export const deinterlace: Treatment<DeinterlaceSettings> = {
  id: 'deinterlace',
  version: 2,
  name: 'Deinterlace',
  answers: 'fields instead of frames',
  settings: DeinterlaceSettings,
  fields: true,
  suits: (input) => input.frames > 1 && input.height >= 4,
  output: (input, { rate }) => {
    const factor = rate === 'double' ? 2 : 1;
    return {
      ...input,
      frames: input.frames * factor,
      rate: reduceRational({ num: input.rate.num * factor, den: input.rate.den }),
      fieldOrder: 'progressive',
    };
  },
  needs: () => ({ ...NO_NEEDS, before: 1, after: 1, whole: true }),
  // Of each frame one field was seen half a frame after the other.
  time: ({ rate }, { frames }) =>
    rate === 'double' ? evenTime(2 * frames, rational(0), rational(1, 2)) : evenTime(frames, rational(0), rational(1)),
  propose: ({ measurements: m }, input) =>
    m.scan === 'interlaced' || m.scan === 'telecined' || (m.scan === 'unknown' && input.fieldOrder !== 'progressive')
      ? { on: m.scan === 'unknown' || m.scanConfidence >= LIKELY, settings: { order: m.fieldOrder === 'bottom-first' ? 'bottom' : 'top' } }
      : undefined,
  draft: (s) => ({ ...s, quality: 'fast' }),
  summary: (s) => `${s.rate} rate, ${s.order} field first${s.motion || s.quality === 'best' ? '' : ', still parts only'}`,
  // Fields of uneven height are rare, and one line short of what the network was taught.
  networks: ({ quality }, input) => (quality === 'best' && input.height % 2 === 0 ? ['fields'] : []),
  apply: async (window, settings, context) => {
    const { frame, input, output, share } = context;
    const best = deinterlace.networks?.(settings, input).length === 1;
    const topFirst = settings.order === 'top';
    const frames = (index: number): [Plane, Plane, Plane] => window.map((p) => p.planes[index]) as [Plane, Plane, Plane];
    const pairs = share(() => {
      const luma = frames(0);
      const motion = (best || settings.motion) && findFieldMotion(luma, topFirst, 'plane 0');
      const shifts = { x: input.chromaShiftX, y: input.chromaShiftY };
      return window[1].planes.map((_, index): [Plane, Plane] =>
        index === 0
          ? fillFields(luma, topFirst, { motion: motion || false, edges: best || settings.edges }, 'plane 0')
          : // Chroma goes where its luma goes; it is too coarse to be searched, and its edges to be followed.
            fillFields(
              frames(index),
              topFirst,
              { motion: motion ? coarserMotion(motion, shifts.x, shifts.y) : false, edges: false },
              `plane ${index}`,
              shifts,
            ),
      );
    });
    const which = settings.rate === 'double' ? frame & 1 : 0;
    const whole: Picture = { info: output, region: wholeRegion(input), planes: pairs.map((pair) => pair[which]) };
    if (!best) return whole;
    const cover = cellsCover(context.asked, input);
    const luma = await fillBest(frames(0), whole.planes[0], which === 1, topFirst, cover);
    return { ...cutPicture(whole, cover), planes: [luma, ...cutPicture(whole, cover).planes.slice(1)] };
  },
};
