import { fillFields } from '../../kernels/deinterlace';
import { reduceRational, type Plane } from '../../picture/picture';
import { ChoiceSetting, FlagSetting } from '../setting';
import { NO_NEEDS, type Treatment } from '../treatment';

export class DeinterlaceSettings {
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
  })
  motion = true;

  @FlagSetting({ label: 'Follow edges', help: 'Fills slanting edges along their direction. Off leaves them in steps.' })
  edges = true;
}

export const deinterlace: Treatment<DeinterlaceSettings> = {
  id: 'deinterlace',
  name: 'Deinterlace',
  answers: 'fields instead of frames',
  settings: DeinterlaceSettings,
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
  frameAt: (frame, { rate }) => (rate === 'double' ? frame >> 1 : frame),
  propose: ({ measurements: m }, input) =>
    m.scan === 'interlaced' || m.scan === 'telecined' || (m.scan === 'unknown' && input.fieldOrder !== 'progressive')
      ? { on: true, settings: { order: m.fieldOrder === 'bottom-first' ? 'bottom' : 'top' } }
      : undefined,
  summary: (s) => `${s.rate} rate, ${s.order} field first${s.motion ? '' : ', still parts only'}`,
  apply: (window, settings, { frame, input, output, region, share }) => {
    const pairs = share(() =>
      window[1].planes.map((_, index): [Plane, Plane] => {
        const frames = window.map((p) => p.planes[index]) as [Plane, Plane, Plane];
        // Chroma is too coarse to follow: it takes the still and in-field way only.
        const follow = index === 0 ? settings : { motion: false, edges: false };
        return fillFields(frames, settings.order === 'top', { motion: follow.motion, edges: follow.edges }, `plane ${index}`);
      }),
    );
    const which = settings.rate === 'double' ? frame & 1 : 0;
    return {
      info: output,
      region: { ...region, x: 0, y: 0, width: input.width, height: input.height },
      planes: pairs.map((pair) => pair[which]),
    };
  },
};
