import { ColourSetting, CurveSetting, NumberSetting } from '../setting';

const dye = (label: string, takes: string): PropertyDecorator =>
  NumberSetting({
    ...{ label, group: 'Faded dyes', unit: '%', min: 30, max: 130, step: 1, whole: true },
    help: `Density that this dye still has. It holds back ${takes} light: the less of it is left, the more ${takes} the shadows are.`,
  });

const paper = (label: string, colour: string): PropertyDecorator =>
  NumberSetting({
    ...{ label, group: 'Yellowed paper, wrong light', unit: 'st', min: -2, max: 2, step: 0.02 },
    help: `Stops of ${colour} that the paper, or the light it was taken in, has kept back: given again everywhere alike.`,
  });

const stops = (label: string, group: string, most: number, help: string): PropertyDecorator =>
  NumberSetting({ label, group, unit: 'st', min: -most, max: most, step: 0.05, help });

const share = (label: string, group: string, help: string): PropertyDecorator =>
  NumberSetting({ label, group, unit: '%', min: 0, max: 200, step: 1, whole: true, help });

export class ToneSettings {
  @dye('Cyan', 'red') cyan = 100;
  @dye('Magenta', 'green') magenta = 100;
  @dye('Yellow', 'blue') yellow = 100;

  @paper('Red', 'red') red = 0;
  @paper('Green', 'green') green = 0;
  @paper('Blue', 'blue') blue = 0;

  @ColourSetting({ label: 'White', group: 'This was', help: 'A place that was white: a collar, a page, the border of the print.' })
  white = '';

  @ColourSetting({ label: 'Grey', group: 'This was', help: 'A place without colour: stone, asphalt, steel, a grey coat.' })
  grey = '';

  @ColourSetting({ label: 'Black', group: 'This was', help: 'The deepest black: a tyre, a shoe, an open door.' })
  black = '';

  @stops('Light', 'Too dark, too light', 4, 'Stops by which all of it is made lighter. Noise of dark pictures is lifted with it.')
  light = 0;

  @stops('Dark parts', 'Too dark, too light', 2, 'Lifts shadows as a whole; their small forms keep their contrast.')
  darks = 0;

  @stops('Light parts', 'Too dark, too light', 2, 'Less than nought holds back pale skies and faces in flash light.')
  lights = 0;

  @stops('Across', 'Uneven light', 3, 'Light given to the right edge and taken from the left.')
  across = 0;

  @stops('Down', 'Uneven light', 3, 'Light given to the lower edge and taken from the upper.')
  down = 0;

  @stops('Corners', 'Uneven light', 3, 'Light given to the corners: lenses and flashes leave them dark.')
  corners = 0;

  @share('Large forms', 'Flat', 'Contrast between light and dark parts. Too much looks like cut paper.')
  large = 100;

  @share('Small forms', 'Flat', 'Contrast of what is smaller than a hundredth of the picture. Too much shows grain and pores.')
  small = 100;

  @share('Strong', 'Colours too weak, too cold', 'Strength of all colours.')
  strength = 100;

  @share('Pale', 'Colours too weak, too cold', 'Strength of pale colours more than of strong ones: skin and sky before flags.')
  pale = 100;

  @stops('Warmer', 'Colours too weak, too cold', 1, 'Yellow and red against blue.')
  warmer = 0;

  @CurveSetting({
    label: 'Curve',
    group: 'Curve',
    help: 'From dark to light, over how often each lightness is there. Drag a point, click to add one.',
  })
  curve = '';
}
