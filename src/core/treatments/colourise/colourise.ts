import { CARRIED, STROKE_MARKS } from '../../../shared/marks';
import type { Guess } from '../../colour/guess';
import { type Giver, giverOf, referredColours } from '../../colour/reference';
import { type Colours, type Ground, groundOf, hinted, type Hints, onRaster, tinted } from '../../colour/colours';
import { type FilmColours, guessAlong, referredAlong, strokesAlong, type View } from '../../colour/film';
import { type ColouredFrame, steadied } from '../../colour/steady';
import { layColours, madeRoom } from '../../colour/lay';
import { FRAME_LONGEST, type Tones, tonesOf } from '../../colour/tones';
import { laidStrokes } from '../../marks/strokes';
import { remembered } from '../../networks/remembered';
import { asColour } from '../../picture/asColour';
import { chromaGrid, cutPicture, growRegion, type Picture } from '../../picture/picture';
import { ChoiceSetting, FlagSetting, NumberSetting, PictureSetting } from '../setting';
import { type ApplyContext, finerDepth, NO_NEEDS, type Treatment } from '../treatment';

export class ColouriseSettings {
  @ChoiceSetting({
    label: 'Colours',
    options: [
      { value: 'likely', label: 'likely' },
      { value: 'warm', label: 'warmer' },
      { value: 'cool', label: 'cooler' },
      { value: 'muted', label: 'muted' },
      { value: 'reference', label: 'by reference' },
      { value: 'hand', label: 'by hand alone' },
    ],
    help: 'What a network thinks the colours were, by what photographs mostly show; none of it is evidence. Where several are likely, the warmer or the cooler ones; muted: the likely ones, pale. By reference: those that places like it have in another picture, such as one of the same room or coat. A test strip shows them beside one another. By hand alone: only what is marked.',
  })
  begin: 'likely' | 'warm' | 'cool' | 'muted' | 'reference' | 'hand' = 'likely';

  @PictureSetting({
    label: 'Other picture',
    help: 'A picture in colours that shows the same things: of this collection, or from elsewhere.',
    when: { key: 'begin', is: ['reference'] },
  })
  reference = '';

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
    when: { key: 'begin', is: ['likely', 'warm', 'cool', 'muted', 'reference'] },
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
    when: { key: 'begin', is: ['likely', 'warm', 'cool', 'muted', 'reference'] },
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
  reach = 30;

  @FlagSetting({
    label: 'Over its own colours',
    help: 'A picture that has colours, faded ones too, is left as it is unless this is on: they are evidence, and what is laid here is none.',
  })
  over = false;

  @FlagSetting({
    label: 'Keep tones',
    help: 'Lightness stays to the last code. Off: where a colour has no room in what is very light or very dark, lightness gives way to it.',
  })
  keepTones = true;
}

/** Whether colours begin with what the network thinks likely. */
const guessed = (begin: ColouriseSettings['begin']): boolean => begin !== 'hand' && begin !== 'reference';

/** Strength of muted colours against likely ones. */
const MUTED = 0.55;

/** Frames of a film before and after one whose colours go into its own. */
const AROUND = 1;

/** The analysis of a film that this reads. */
const FILM_COLOURS = 'film-colours';

/** Bytes of colours and of links on their raster. */
const rememberReferred = remembered<Guess>(1 << 16),
  rememberGiver = remembered<Giver>(1 << 18),
  rememberGround = remembered<Ground>(8 << 20),
  rememberColours = remembered<Colours>(4 << 20);

export const colourise: Treatment<ColouriseSettings> = {
  id: 'colourise',
  version: 8,
  name: 'Colourise',
  answers: 'monochrome',
  settings: ColouriseSettings,
  inPlace: true,
  marks: STROKE_MARKS,
  reads: ({ begin }, { frames }) => (frames > 1 ? [] : guessed(begin) ? ['tones', 'colours'] : ['tones']),
  readsOfSource: (_settings, { frames }) => (frames > 1 ? [FILM_COLOURS] : []),
  pictures: ({ begin, reference }) => (begin === 'reference' && reference ? [reference] : []),
  networks: ({ begin }) => (begin === 'hand' ? [] : ['colour']),
  order: [
    {
      after: 'regrain',
      text: 'Colours are spread along the picture’s own edges. Move Colourise above Regrain, whose grain would steer them.',
    },
  ],
  suits: ({ fieldOrder }) => fieldOrder === 'progressive',
  output: (input) => ({
    ...{ ...input, depth: finerDepth(input), planes: 3 },
    ...(input.planes === 1 && { chromaShiftX: 0, chromaShiftY: 0 }),
  }),
  needs: (_settings, { frames }) => (frames > 1 ? { ...NO_NEEDS, before: AROUND, after: AROUND, whole: true } : NO_NEEDS),
  supported: (settings) => ({ ...settings, amount: 0 }),
  propose: ({ measurements: { monochrome } }) => (monochrome ? { on: false, settings: {} } : undefined),
  summary: ({ begin, amount }) =>
    `colour added, ${{ likely: 'likely', warm: 'warmer', cool: 'cooler', muted: 'muted', reference: 'by reference', hand: 'by hand' }[begin]}${amount < 100 ? `, ${amount} %` : ''}`,
  async apply(window, settings, context) {
    const { input, output, analyses } = context;
    const film = analyses[FILM_COLOURS] as FilmColours | undefined;
    const source = window[film ? AROUND : 0];
    const own = film?.own ?? (analyses.tones as Tones).own;
    // Of a film the whole frame is given, whatever part of it is asked for.
    const region = film ? growRegion(context.asked, 0, chromaGrid(output), output) : context.region;
    if (settings.amount === 0 || (own === 'coloured' && !settings.over))
      return { ...asColour(cutPicture(source, region), output), info: output };
    const { tones, colours } = film ? await colouredFrame(window, film, settings, context) : await colouredStill(settings, context);
    const laid = layColours(source, region, output, tones, colours, { weight: settings.amount / 100, unbound: !settings.keepTones });
    return settings.keepTones ? laid : madeRoom(laid);

    async function colouredStill(of: ColouriseSettings, { marks, place }: ApplyContext): Promise<{ tones: Tones; colours: Colours }> {
      const still = analyses.tones as Tones;
      const strokes = laidStrokes(marks, CARRIED, place).map((stroke) => onRaster(stroke, still.width / input.width));
      return { tones: still, colours: await coloursOf(still, of, [{ strokes, weight: 1 }], await guessOf(still, of, context)) };
    }
  },
};

/** What a still's colours begin with; nothing by hand, and where no other picture is chosen. */
function guessOf(
  tones: Tones,
  { begin, reference }: ColouriseSettings,
  { analyses, pictures }: ApplyContext,
): Promise<Guess> | Guess | undefined {
  if (guessed(begin)) return analyses.colours as Guess;
  const other = begin === 'reference' ? pictures[reference] : undefined;
  return other && rememberReferred([tones.luma, reference], () => referredColours(tones, other));
}

/** What a film's colours begin with at each of its frames; nothing by hand, and where no other picture is chosen. */
async function guessesOf(
  film: FilmColours,
  { begin, reference }: ColouriseSettings,
  pictures: ApplyContext['pictures'],
): Promise<(view: View) => Guess | undefined> {
  if (guessed(begin)) return (view) => guessAlong(film, view);
  const other = begin === 'reference' ? pictures[reference] : undefined;
  if (!other) return () => undefined;
  const giver = await rememberGiver([reference], () => giverOf(other));
  return (view) => referredAlong(film, giver, reference, view);
}

/** A frame of a film and those beside it, each by itself, and then in the mean along motion. */
async function colouredFrame(
  window: readonly Picture[],
  film: FilmColours,
  settings: ColouriseSettings,
  { input: { width, height }, marks, place, seen, pictures }: ApplyContext,
): Promise<{ tones: Tones; colours: Colours }> {
  const guessAt = await guessesOf(film, settings, pictures);
  const each = async (n: number): Promise<ColouredFrame> => {
    const view = { width, height, place, seen: seen[n] };
    const tones = { ...tonesOf(window[n], FRAME_LONGEST), own: film.own };
    const marked = strokesAlong(film.motion, marks, CARRIED, view).map(({ strokes, weight }) => ({
      weight,
      strokes: strokes.map((stroke) => onRaster(stroke, tones.width / width)),
    }));
    return { tones, view, colours: await coloursOf(tones, settings, marked, guessAt(view)) };
  };
  const middle = await each(AROUND);
  const others: ColouredFrame[] = [];
  // At a film's ends frames repeat, and have nothing new to say.
  for (let n = 0; n < window.length; n++) if (n !== AROUND && window[n] !== window[AROUND]) others.push(await each(n));
  return { tones: middle.tones, colours: steadied(middle, others, film.motion) };
}

/** What is laid over a picture, as far as it is not remembered. */
async function coloursOf(
  tones: Tones,
  { begin, vividness, quiet, reach }: ColouriseSettings,
  marked: readonly Hints[],
  guess: Guess | undefined,
): Promise<Colours> {
  const taken = guess &&
    begin !== 'hand' && {
      guess,
      leaning: begin === 'warm' || begin === 'cool' ? begin : ('likely' as const),
      vividness: (vividness / 100) * (begin === 'muted' ? MUTED : 1),
      quiet: quiet / 100,
    };
  // Marks that only colour leave the ground as it is.
  const bars = marked.flatMap(({ strokes }) => strokes.filter(({ mark }) => mark.use === 'bar'));
  const read = [
    ...[tones.luma, ...(taken ? [taken.guess.answers[taken.leaning], taken.guess.doubt] : [])],
    JSON.stringify([tones.width, begin, vividness, quiet, bars]),
  ];
  const ground = await rememberGround(read, () => Promise.resolve(groundOf(tones, bars, taken || undefined)));
  return rememberColours([...read, JSON.stringify([marked, reach])], () =>
    Promise.resolve(tinted(hinted(ground, marked, reach / 100), marked, ground.links)),
  );
}
