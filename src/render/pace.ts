import {
  compile,
  newPlane,
  type Pace,
  paceKey,
  type Picture,
  PictureCache,
  randomStream,
  settingSpecs,
  type StreamInfo,
  type Treatment,
  TREATMENTS,
  wholeRegion,
} from '../core';
import { emptyPlan } from '../shared/plan';

/** One cell of the networks, so that nothing is worked twice. */
const SIZE = { width: 384, height: 256 };
const FRAMES = 5;
/** Output frames that are timed, after one that warms up. */
const TIMED = 2;

/**
 * How long this machine takes for each treatment that offers a quality, both ways, on a small made-up clip: seconds of one
 * core for a million pixels read. A way that does not run here is left out.
 */
export async function measurePace(): Promise<Pace> {
  const pace: Pace = {};
  for (const kind of TREATMENTS) {
    const quality = settingSpecs(kind.settings).find((s) => s.key === 'quality');
    for (const { value } of quality?.options ?? []) {
      const settings = { ...new kind.settings(), ...kind.pacedWith, quality: value };
      for (const frames of [1, FRAMES]) {
        const seconds = await timed(kind, settings, frames).catch(() => undefined);
        if (seconds !== undefined) (pace[paceKey(kind.id, frames)] ??= {})[value] = seconds;
      }
    }
  }
  return pace;
}

/** @throws PlanError where the treatment does not suit so many frames, NetworkError where its network does not run. */
async function timed(treatment: Treatment, settings: Record<string, unknown>, count: number): Promise<number> {
  const frames = Array.from({ length: count }, (_, n) => frame(n, count));
  const info = frames[0].info;
  const source = { info, key: 'pace', frame: (n: number) => Promise.resolve(frames[n]) };
  const plan = emptyPlan([{ id: treatment.id, treatment: treatment.id, on: true, settings }]);
  const { output } = compile(plan, source, { cache: new PictureCache(0) });
  const whole = wholeRegion(output.stream);
  const middle = output.stream.frames >> 1;
  await output.frame(middle, whole);
  const before = output.spent.milliseconds;
  for (let n = 0; n < TIMED; n++) await output.frame(Math.min(middle + n, output.stream.frames - 1), whole);
  return (output.spent.milliseconds - before) / TIMED / 1000 / ((SIZE.width * SIZE.height) / 1e6);
}

function frame(n: number, frames: number): Picture {
  // Stills have all of their chroma, moving images a quarter.
  const shift = frames > 1 ? 1 : 0;
  const info: StreamInfo = {
    ...SIZE,
    pixelAspect: { num: 1, den: 1 },
    chromaShiftX: shift,
    chromaShiftY: shift,
    planes: 3,
    depth: 8,
    colour: { matrix: 'bt601', range: 'limited', transfer: 'video', primaries: 'smpte170m' },
    fieldOrder: 'top-first',
    frames,
    rate: { num: 25, den: 1 },
  };
  const random = randomStream(n + 1);
  const planes = [0, shift, shift].map((halved) => {
    const plane = newPlane(SIZE.width >> halved, SIZE.height >> halved);
    for (let i = 0; i < plane.data.length; i++)
      plane.data[i] = 30000 + 9000 * Math.sin((i % plane.width) / 9 + n) + 4000 * Math.cos(i / 4000) + 2500 * random();
    return plane;
  });
  return { info, region: wholeRegion(info), planes };
}
