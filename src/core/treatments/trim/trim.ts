import { evenTime, rational } from '../../../shared/maps/time';
import { NumberSetting } from '../setting';
import { NO_NEEDS, PlanError, relabel, type Treatment } from '../treatment';

export class TrimSettings {
  @NumberSetting({
    label: 'First frame',
    unit: 'fr',
    min: 0,
    max: 100_000_000,
    step: 1,
    whole: true,
    help: 'The first frame that is kept.',
  })
  first = 0;

  @NumberSetting({
    label: 'Last frame',
    unit: 'fr',
    min: -1,
    max: 100_000_000,
    step: 1,
    whole: true,
    help: 'The last frame that is kept; -1 keeps all to the end.',
  })
  last = -1;
}

function range(settings: TrimSettings, frames: number): { first: number; count: number } {
  const last = settings.last < 0 ? frames - 1 : Math.min(settings.last, frames - 1);
  if (settings.first > last) throw new PlanError(`Trim keeps nothing: first frame ${settings.first} comes after the last, ${last}.`);
  return { first: settings.first, count: last - settings.first + 1 };
}

export const trim: Treatment<TrimSettings> = {
  id: 'trim',
  version: 1,
  name: 'Trim',
  answers: 'unwanted running time',
  settings: TrimSettings,
  fields: true,
  suits: (input) => input.frames > 1,
  output: (input, settings) => ({ ...input, frames: range(settings, input.frames).count }),
  needs: () => NO_NEEDS,
  time: (settings, input) => {
    const { first, count } = range(settings, input.frames);
    return evenTime(count, rational(first), rational(1));
  },
  propose: () => ({ on: false, settings: {} }),
  summary: (settings, input) => {
    const { first, count } = range(settings, input.frames);
    return count === input.frames ? 'all frames' : `frames ${first} to ${first + count - 1}`;
  },
  apply: ([picture], _settings, { output }) => relabel(picture, output),
};
