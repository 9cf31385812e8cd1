import { groundOf } from '../src/core/colour/colours';
import { referredColours } from '../src/core/colour/reference';
import type { LaidPicture } from '../src/core/picture/laid';
import { toRgb } from '../src/core/picture/matrix';
import { NEUTRAL_CHROMA, type Picture } from '../src/core/picture/picture';
import { ColouriseSettings } from '../src/core/treatments/colourise/colourise';
import { apart, differences, inOneColour, laid, mean, percent, strengthOf, type Trial, trialsOf } from './colourTrials';
import { type Named, namedIn } from './named';
import type { Row } from './table';
import { isSkin } from './tone';

function guesses(all: Trial[], of: string): Row[] {
  const group = `Colour: ${of} made monochrome, no hints, CIEDE2000 to the truth`;
  const middle = (index: 1 | 2): number =>
    mean(all.map(({ truth }) => mean([...truth.planes[index].data.slice(0, 20_000)]) - NEUTRAL_CHROMA)) / 257;
  const [cb, cr] = [middle(1), middle(2)];
  const sure: number[] = [],
    unsure: number[] = [];
  const rows = all.map((trial) => {
    const made = laid(trial, trial.ground.colours);
    const offs = differences(made, trial.truth);
    const doubts = offs.map(({ x, y }) => trial.doubt(x, y));
    const half = [...doubts].sort((a, b) => a - b)[doubts.length >> 1];
    offs.forEach(({ off }, n) => (doubts[n] <= half ? sure : unsure).push(off));
    return {
      made: mean(offs.map(({ off }) => off)),
      grey: apart(inOneColour(trial, 0, 0), trial.truth),
      one: apart(inOneColour(trial, cb, cr), trial.truth),
      strength: strengthOf(made) / strengthOf(trial.truth),
    };
  });
  const [made, grey, one] = (['made', 'grey', 'one'] as const).map((key) => mean(rows.map((row) => row[key])));
  const worse = rows.filter((row) => row.made > row.grey).length;
  return [
    { group, what: 'left grey', shown: grey.toFixed(2) },
    { group, what: 'one colour for all', shown: one.toFixed(2) },
    { group, what: 'untouched', shown: `${made.toFixed(2)} (worst ${Math.max(...rows.map((row) => row.made)).toFixed(1)})` },
    { group, what: 'against leaving it grey', shown: `${percent(made / grey)}`, value: made / grey, atMost: 0.92 },
    { group, what: 'against one colour for all', shown: `${percent(made / one)}`, value: made / one, atMost: 0.85 },
    { group, what: 'worse than grey', shown: `${worse} of ${rows.length}`, value: worse / rows.length, atMost: 0.2 },
    {
      group,
      what: 'mean chroma over the truth’s',
      shown: mean(rows.map((row) => row.strength)).toFixed(2),
      value: mean(rows.map((row) => row.strength)),
      atLeast: 0.6,
    },
    {
      group,
      what: 'off where it is surer over where it is less sure',
      shown: (mean(sure) / mean(unsure)).toFixed(2),
      value: mean(sure) / mean(unsure),
      atMost: 0.6,
    },
  ];
}

/** Cheeks and foreheads of portraits. */
function skin(all: Trial[]): Row[] {
  const group = 'Colour: skin of portraits made monochrome, no hints, CIEDE2000 to the truth (people held out)';
  const at = ({ truth }: Trial, made: Picture): number => {
    const { width, height } = truth.info;
    return mean(
      differences(made, truth)
        .filter(({ x, y }) => isSkin(x / width, y / height))
        .map(({ off }) => off),
    );
  };
  const offs = all.map((trial) => at(trial, laid(trial, trial.ground.colours))),
    grey = all.map((trial) => at(trial, inOneColour(trial, 0, 0)));
  // From the darkest third of the people to the lightest.
  const byTone = all.map((trial, n) => ({ off: offs[n], light: lightOfSkin(trial) })).sort((a, b) => a.light - b.light);
  const thirds = [0, 1, 2].map((n) =>
    mean(byTone.slice(Math.floor((n * all.length) / 3), Math.floor(((n + 1) * all.length) / 3)).map(({ off }) => off)),
  );
  const spread = Math.max(...thirds) - Math.min(...thirds);
  return [
    { group, what: 'left grey', shown: mean(grey).toFixed(2) },
    { group, what: 'untouched', shown: `${mean(offs).toFixed(2)} (worst ${Math.max(...offs).toFixed(1)})`, value: mean(offs), atMost: 9 },
    {
      group,
      what: 'between thirds of the people by the lightness of their skin',
      shown: `${spread.toFixed(2)} (${thirds.map((v) => v.toFixed(1)).join(', ')}, dark to light)`,
      value: spread,
      atMost: 2,
    },
  ];
}

/** Mean luma of cheeks and forehead. */
function lightOfSkin({ truth: { info, planes } }: Trial): number {
  const values: number[] = [];
  for (let y = 0; y < info.height; y += 3)
    for (let x = 0; x < info.width; x += 3) if (isSkin(x / info.width, y / info.height)) values.push(planes[0].data[y * info.width + x]);
  return mean(values);
}

/** Another view of the same: in the mirror, without its outer parts, lighter. */
function otherView({ truth }: Trial): LaidPicture {
  const { width, height } = truth.info;
  const rgb = toRgb(truth, 16);
  const [w, h] = [Math.round(0.8 * width), Math.round(0.8 * height)];
  const data = new Uint16Array(3 * w * h);
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++)
      for (let c = 0; c < 3; c++)
        data[3 * (y * w + x) + c] =
          65535 * (rgb[3 * ((y + ((height - h) >> 1)) * width + width - 1 - x - ((width - w) >> 1)) + c] / 65535) ** 0.8;
  return { width: w, height: h, data };
}

async function referred(all: Trial[]): Promise<Row[]> {
  const group = 'Colour: by reference to another view of the same (mirrored, cut, lighter), CIEDE2000 to the truth (held-out photographs)';
  const offs: number[] = [],
    greys: number[] = [];
  for (const trial of all) {
    const guess = await referredColours(trial.tones, otherView(trial));
    const { quiet } = new ColouriseSettings();
    const ground = groundOf(trial.tones, [], { guess, leaning: 'likely', vividness: 1, quiet: quiet / 100 });
    offs.push(apart(laid(trial, ground.colours), trial.truth));
    greys.push(apart(inOneColour(trial, 0, 0), trial.truth));
  }
  const worse = offs.filter((off, n) => off > greys[n]).length;
  return [
    { group, what: 'left grey', shown: mean(greys).toFixed(2) },
    {
      group,
      what: 'by reference',
      shown: `${mean(offs).toFixed(2)} (${percent(mean(offs) / mean(greys))}; worse than grey ${worse} of ${offs.length})`,
    },
  ];
}

/** Things that have a name: how often those that are called sure have the hue of the truth, or near it. */
function named(found: Named[]): Row[] {
  const group = 'Colour: named things, no hints, hue within 45 degrees (places of held-out photographs, labelled by eye)';
  const told = (of: Named[]): string => `${of.filter(({ right }) => right).length} of ${of.length}`;
  const sure = found.filter((place) => place.sure);
  return [
    {
      group,
      what: 'places that are called sure',
      shown: told(sure),
      value: sure.filter(({ right }) => right).length / sure.length,
      atLeast: 0.8,
    },
    { group, what: 'all places that have a hue', shown: told(found) },
    ...[...new Set(found.map(({ thing }) => thing))].map((thing): Row => {
      const [own, all] = [sure, found].map((of) => of.filter((place) => place.thing === thing));
      return { group, what: thing, shown: `sure ${told(own)}; all ${told(all)}` };
    }),
  ];
}

/** Monochrome photographs coloured untouched. */
export async function coloursGuessed(): Promise<Row[]> {
  const held = [...(await trialsOf('held', 'photograph')), ...(await trialsOf('held', 'small'))];
  const views = await trialsOf('places', '');
  const people = await trialsOf('faces', 'scene-');
  const things = Object.entries({ held, places: views, faces: people }).flatMap(([folder, trials]) =>
    trials.flatMap((trial) => namedIn(folder, trial, laid(trial, trial.ground.colours))),
  );
  return [
    ...guesses(held, 'held-out photographs, many of close things whose colour nobody knows,'),
    ...guesses(views, 'held-out views, rooms and people'),
    ...named(things),
    ...(await referred(held)),
    ...skin(await trialsOf('faces', 'real')),
  ];
}
