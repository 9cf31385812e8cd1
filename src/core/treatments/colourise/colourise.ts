import { STROKE_MARKS, type StrokeUse } from '../../../shared/marks';
import type { Guess } from '../../colour/guess';
import { type Colours, type Ground, groundOf, hinted, onRaster } from '../../colour/colours';
import { layColours } from '../../colour/lay';
import type { Tones } from '../../colour/tones';
import { laidStrokes } from '../../marks/strokes';
import { remembered } from '../../networks/remembered';
import { asColour } from '../../picture/asColour';
import { cutPicture } from '../../picture/picture';
import { ChoiceSetting, FlagSetting, NumberSetting } from '../setting';
import { finerDepth, NO_NEEDS, type Treatment } from '../treatment';

export class ColouriseSettings {
  @ChoiceSetting({
    label: 'Colours',
    options: [
      { value: 'likely', label: 'likely' },
      { value: 'warm', label: 'warmer' },
      { value: 'cool', label: 'cooler' },
      { value: 'muted', label: 'muted' },
      { value: 'hand', label: 'by hand alone' },
    ],
    help: 'What a network thinks the colours were, by what photographs mostly show; none of it is evidence. Where several are likely, the warmer or the cooler ones; muted: the likely ones, pale. A test strip shows them beside one another. By hand alone: only what is marked.',
  })
  begin: 'likely' | 'warm' | 'cool' | 'muted' | 'hand' = 'likely';

  @NumberSetting({
    label: 'Amount',
    unit: '%',
    min: 0,
    max: 100,
    step: 5,
    whole: true,
    help: 'How much of the colours is laid over the picture, marks included.',
  })
  amount = 100;

  @NumberSetting({
    label: 'Vividness',
    unit: '%',
    min: 0,
    max: 200,
    step: 5,
    whole: true,
    help: 'Strength of the colours the network gave. What is marked keeps its own.',
    when: { key: 'begin', is: ['likely', 'warm', 'cool', 'muted'] },
  })
  vividness = 100;

  @NumberSetting({
    label: 'Quiet in doubt',
    unit: '%',
    min: 0,
    max: 100,
    step: 5,
    whole: true,
    help: 'How far colours are taken back where the network itself is unsure. Less, and doubtful things get the colour of their surroundings.',
    when: { key: 'begin', is: ['likely', 'warm', 'cool', 'muted'] },
  })
  quiet = 80;

  @NumberSetting({
    label: 'Marks reach',
    unit: '%',
    min: 2,
    max: 100,
    step: 1,
    whole: true,
    help: 'How far a marked colour spreads where no edge stops it, in percent of the longer side.',
  })
  reach = 40;

  @FlagSetting({
    label: 'Over its own colours',
    help: 'A picture that has colours, faded ones too, is left as it is unless this is on: they are evidence, and what is laid here is none.',
  })
  over = false;
}

/** Strength of muted colours against likely ones. */
const MUTED = 0.55;

/** Uses of strokes that this reads. */
const HINTS: readonly StrokeUse[] = ['colour', 'neutral', 'bar'];

/** Bytes of colours and of links on their raster. */
const rememberGround = remembered<Ground>(8 << 20),
  rememberColours = remembered<Colours>(4 << 20);

export const colourise: Treatment<ColouriseSettings> = {
  id: 'colourise',
  version: 1,
  name: 'Colourise',
  answers: 'monochrome',
  settings: ColouriseSettings,
  inPlace: true,
  marks: STROKE_MARKS,
  reads: ({ begin }) => (begin === 'hand' ? ['tones'] : ['tones', 'colours']),
  networks: ({ begin }) => (begin === 'hand' ? [] : ['colour']),
  order: [
    {
      after: 'regrain',
      text: 'Colours are spread along the picture’s own edges. Move Colourise above Regrain, whose grain would steer them.',
    },
  ],
  suits: ({ frames, fieldOrder }) => frames === 1 && fieldOrder === 'progressive',
  output: (input) => ({ ...input, depth: finerDepth(input), planes: 3, ...(input.planes === 1 && { chromaShiftX: 0, chromaShiftY: 0 }) }),
  needs: () => NO_NEEDS,
  supported: (settings) => ({ ...settings, amount: 0 }),
  propose: ({ measurements: { monochrome, scan } }) => (monochrome && scan === 'still' ? { on: false, settings: {} } : undefined),
  summary: ({ begin, amount }) =>
    `colour added, ${{ likely: 'likely', warm: 'warmer', cool: 'cooler', muted: 'muted', hand: 'by hand' }[begin]}${amount < 100 ? `, ${amount} %` : ''}`,
  async apply([source], settings, { input, output, region, marks, place, analyses }) {
    const tones = analyses.tones as Tones;
    const { begin, amount, vividness, quiet, reach, over } = settings;
    const plain = asColour(cutPicture(source, region), output);
    if (amount === 0 || (tones.own === 'coloured' && !over)) return { ...plain, info: output };
    const strokes = laidStrokes(marks, HINTS, place).map((stroke) => onRaster(stroke, tones.width / input.width));
    const taken =
      begin === 'hand'
        ? undefined
        : {
            guess: analyses.colours as Guess,
            leaning: begin === 'muted' ? ('likely' as const) : begin,
            vividness: (vividness / 100) * (begin === 'muted' ? MUTED : 1),
            quiet: quiet / 100,
          };
    // Marks that only colour leave the ground as it is.
    const bars = strokes.filter(({ mark }) => mark.use === 'bar');
    const read = [
      ...[tones.luma, ...(taken ? [taken.guess.answers[taken.leaning], taken.guess.doubt] : [])],
      JSON.stringify([tones.width, begin, vividness, quiet, bars]),
    ];
    const ground = await rememberGround(read, () => Promise.resolve(groundOf(tones, bars, taken)));
    const colours = await rememberColours([...read, JSON.stringify([strokes, reach])], () =>
      Promise.resolve(hinted(ground, strokes, reach / 100)),
    );
    return layColours(source, region, output, tones, colours, amount / 100);
  },
};
