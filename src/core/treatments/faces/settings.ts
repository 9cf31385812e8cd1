import { FacesSetting, NumberSetting, ReferencesSetting } from '../setting';

const OF_AN_AREA = { unit: '%', min: 0, max: 100, step: 5, whole: true } as const;

export class FacesSettings {
  @NumberSetting({
    label: 'Amount',
    unit: '%',
    min: 0,
    max: 100,
    step: 5,
    whole: true,
    help: 'How much of what the network reads into faces is taken. Each face is held back by itself where it would become somebody else.',
  })
  amount = 100;

  @NumberSetting({
    label: 'Noise',
    unit: 'σ',
    min: 0,
    max: 60,
    step: 0.1,
    help: 'How strong the noise of the source is. Reduced to the source again, a face stays within twice of it.',
  })
  noise = 2;

  @NumberSetting({
    label: 'Coding',
    min: 0,
    max: 100,
    step: 1,
    help: 'How coarsely the source was coded: the quantiser step that Compression reads. Coarse coding leaves less to hold to.',
  })
  coding = 0;

  @NumberSetting({
    label: 'Own grain',
    unit: '%',
    min: 0,
    max: 100,
    step: 5,
    whole: true,
    help: 'Share of the grain which the picture has here that a face keeps. Less, and faces stand out smooth from what is round them.',
  })
  grain = 100;

  @NumberSetting({ ...OF_AN_AREA, label: 'Eyes', help: 'How much of it eyes and brows get.' })
  eyes = 100;

  @NumberSetting({ ...OF_AN_AREA, label: 'Mouth', help: 'How much of it lips and what is round them get.' })
  mouth = 100;

  @NumberSetting({
    ...OF_AN_AREA,
    label: 'Skin',
    help: 'How much of it all else in the face gets. Finer areas are painted: Only in, below.',
  })
  skin = 100;

  @NumberSetting({
    label: 'Frames',
    min: 0,
    max: 8,
    step: 1,
    whole: true,
    moving: true,
    help: 'So many frames before and after one say what a face looks like in it, wherever they show the same. More take longer.',
  })
  around = 4;

  @ReferencesSetting({
    label: 'References',
    help: 'Other pictures of the same people, which say what this one cannot: only where they agree with what it shows.',
  })
  references = '';

  @FacesSetting({
    label: 'Each face',
    help: 'How much each gets, of the amount above. Faces that were not found, or lie wrongly, are placed by their two eyes.',
  })
  each = '';
}
