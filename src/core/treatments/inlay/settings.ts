import { ChoiceSetting, NumberSetting, PictureSetting } from '../setting';

const PLACE = 'Its place';

export class InlaySettings {
  @PictureSetting({
    label: 'Picture',
    help: 'A still of this collection as its plan makes it now, a face of it, or a file. It is kept with the plan as it was when it was chosen.',
  })
  picture = '';

  @ChoiceSetting({
    label: 'Shape',
    options: [
      { value: 'whole', label: 'all' },
      { value: 'oval', label: 'an oval' },
    ],
    help: 'All of it, held by two corners; or an oval, as of a face, held by the eyes. Finer shapes are masks.',
  })
  shape: 'whole' | 'oval' = 'whole';

  @NumberSetting({
    label: 'Soft edge',
    unit: '%',
    min: 0,
    max: 50,
    step: 1,
    whole: true,
    help: 'Over how much of its shorter side it fades out.',
  })
  edge = 12;

  @NumberSetting({
    label: 'Light here',
    unit: '%',
    min: 0,
    max: 100,
    step: 5,
    whole: true,
    help: 'How far it takes the light, the contrast and the colours that are there. At nought it stays as it is, which a hole in this picture may want.',
  })
  light = 100;

  @NumberSetting({
    label: 'Softer',
    unit: 'px',
    min: 0,
    max: 10,
    step: 0.1,
    help: 'A blur, by its deviation, that makes it no sharper than what is round it.',
  })
  softer = 0;

  @NumberSetting({
    label: 'Opacity',
    unit: '%',
    min: 0,
    max: 100,
    step: 5,
    whole: true,
    help: 'How much of what is below it covers.',
  })
  opacity = 100;

  @NumberSetting({
    group: PLACE,
    label: 'Across',
    unit: 'px',
    min: -40_000,
    max: 80_000,
    step: 0.5,
    help: 'Its middle, from the left of the source.',
  })
  x = 0;

  @NumberSetting({
    group: PLACE,
    label: 'Down',
    unit: 'px',
    min: -40_000,
    max: 80_000,
    step: 0.5,
    help: 'Its middle, from the top of the source.',
  })
  y = 0;

  @NumberSetting({
    ...{ group: PLACE, label: 'Width', unit: 'px', min: 1, max: 80_000, step: 0.5 },
    help: 'How wide it is in pixels of the source; its height follows.',
  })
  width = 256;

  @NumberSetting({ group: PLACE, label: 'Turned', unit: '°', min: -180, max: 180, step: 0.1, help: 'How far it is turned, clockwise.' })
  turn = 0;
}
