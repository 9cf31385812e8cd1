import { examine } from '../src/core/condition/examine';
import { psnr } from '../src/core/metrics/metrics';
import { newPlane, wholeRegion, type Picture, type Plane } from '../src/core/picture/picture';
import { PictureCache } from '../src/core/graph/cache';
import { compile } from '../src/core/graph/graph';
import type { FrameSource } from '../src/core/graph/node';
import type { PlainPlan } from '../src/shared/plan';
import { proposePlan, withQuality } from '../src/core/plan/plan';
import { benchClips, combClips } from './clips';
import { filterGrey } from './ffmpeg';
import { greyStream, heldClips, PEAK } from './held';
import type { Row } from './table';

const GROUP = 'Do no harm: clean progressive clips at half size, proposed plans untouched, against the better of bicubic and lanczos at 2x';
/** Drawn clips at full size, frames of each, and those that are judged. */
const SIZE = { width: 720, height: 480 };
const FRAMES = 12;
const JUDGED = [3, 6];

/** Half the size: each sample the mean of four. */
function halved({ width, height, data }: Plane): Plane {
  const out = newPlane(width >> 1, height >> 1);
  for (let i = 0; i < out.data.length; i++) {
    const at = 2 * Math.floor(i / out.width) * width + 2 * (i % out.width);
    out.data[i] = Math.round((data[at] + data[at + 1] + data[at + width] + data[at + width + 1]) / 4 / 256) * 256;
  }
  return out;
}

/** The plan with its enlargement to twice the size, where the truth is. */
const doubled = (plan: PlainPlan): PlainPlan => ({
  ...plan,
  steps: plan.steps.map((s) =>
    s.treatment === 'upscale' ? { ...s, on: true, settings: { ...s.settings, target: 'factor', factor: 2 } } : s,
  ),
});

async function gains(truth: Plane[], work: string): Promise<{ gains: number[]; steps: string }> {
  const frames = truth.map(halved);
  const info = greyStream(frames[0], frames.length);
  const source: FrameSource = {
    info,
    key: String(Math.random()),
    frame: (n): Promise<Picture> => Promise.resolve({ info, region: wholeRegion(info), planes: [frames[n]] }),
  };
  const size = { width: truth[0].width, height: truth[0].height };
  const mean = (of: (n: number) => Plane): number => JUDGED.reduce((sum, n) => sum + psnr(of(n), truth[n], PEAK, 8), 0) / JUDGED.length;
  const plain = ['bicubic', 'lanczos'].map((flags) => {
    const made = filterGrey(frames, `scale=${size.width}:${size.height}:flags=${flags}+accurate_rnd`, size, work);
    return mean((n) => made[n]);
  });
  const plan = doubled(proposePlan(await examine(source), info));
  const made: number[] = [];
  for (const quality of ['fast', 'best'] as const) {
    const { output } = compile(withQuality(plan, quality), source, { cache: new PictureCache(100 << 20) });
    const pictures = new Map<number, Plane>();
    for (const n of JUDGED) pictures.set(n, (await output.frame(n, wholeRegion(output.stream))).planes[0]);
    made.push(mean((n) => pictures.get(n) as Plane) - Math.max(...plain));
  }
  const steps = plan.steps.filter((s) => s.on).map((s) => s.treatment);
  return { gains: made, steps: steps.join(', ') };
}

export async function doNoHarmClips(work: string): Promise<Row[]> {
  const drawn = [...benchClips(SIZE.width, SIZE.height, FRAMES), ...combClips(SIZE.width, SIZE.height, FRAMES)];
  const clips = [...drawn, ...heldClips().map((frames, n) => ({ name: `held clip ${n + 1}`, frames }))];
  const rows: Row[] = [];
  for (const { name, frames } of clips) {
    const made = await gains(frames, work);
    for (const [i, quality] of ['fast', 'best'].entries()) {
      const gain = made.gains[i];
      rows.push({
        group: GROUP,
        what: `${name}, ${quality} (${made.steps})`,
        shown: `${gain >= 0 ? '+' : ''}${gain.toFixed(2)} dB`,
        value: gain,
        atLeast: -0.1,
      });
    }
  }
  return rows;
}
