import { execFileSync } from 'node:child_process';
import { readFileSync, statSync } from 'node:fs';
import path from 'node:path';
import type { Collection, Item } from '../src/archive/types';
import { mapSteps, type Plan } from '../src/shared/plan';
import { TestServer } from '../tests/server';
import { timed } from './ffmpeg';
import type { Row } from './table';

/** Figures of the running application, measured from outside as a browser would see them. */

const GROUP = 'Application, on the demo disc at 720 x 480 to 1440 x 1080';
const DISC = path.resolve(import.meta.dirname, '../demo/media/Regatta disc, title 1.mkv');
/** Changes measured; the median is told. */
const CHANGES = 15;

const median = (values: number[]): number => [...values].sort((a, b) => a - b)[values.length >> 1];

async function itemOf(server: TestServer, file: string): Promise<{ item: Item; plan: Plan }> {
  const { id } = await server.api<Collection>('collections', { name: path.basename(file) });
  await server.api(`collections/${id}/takein`, { path: file });
  for (;;) {
    const [item] = (await server.api<{ items: Item[] }>(`collections/${id}`)).items;
    if (item.state === 'ready') return { item, plan: (await server.api<{ plan: { plan: Plan } }>(`items/${item.id}`)).plan.plan };
    await new Promise((resolve) => setTimeout(resolve, 200));
  }
}

/** The plan with another amount of grain taken off, as a restorer tries them. */
const changed = (plan: Plan, n: number): Plan =>
  mapSteps(plan, (s) => (s.treatment === 'grain' ? { ...s, settings: { ...s.settings, luma: 2 + n * 0.1 } } : s));

async function proof(server: TestServer, item: Item, plan: Plan, query: object): Promise<number> {
  const start = performance.now();
  const answer = await fetch(`${server.url}/api/items/${item.id}/proof`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({
      plan,
      frame: 200,
      region: { x: 0, y: 0, width: 1, height: 1 },
      fit: { width: 1280, height: 800 },
      viewer: 'bench',
      turn: 1,
      lane: 'picture',
      ...query,
    }),
  });
  if (!answer.ok) throw new Error(await answer.text());
  await answer.arrayBuffer();
  return performance.now() - start;
}

export async function proofLatency(): Promise<Row[]> {
  const server = new TestServer();
  await server.start();
  try {
    const { item, plan } = await itemOf(server, DISC);
    const pictures: number[] = [],
      ladders: number[] = [];
    const on = plan.steps.filter((s) => s.on).length;
    for (let n = 0; n < CHANGES + 2; n++) {
      const picture = await proof(server, item, changed(plan, n), {});
      const start = performance.now();
      const region = { x: 0.4, y: 0.4, width: 0.075, height: 0.1 };
      await Promise.all(
        Array.from({ length: on + 1 }, (_, after) =>
          proof(server, item, changed(plan, n), { region, after, lane: 'side', turn: n, fit: { width: 384, height: 384 } }),
        ),
      );
      // The first two warm up.
      if (n >= 2) pictures.push(picture);
      if (n >= 2) ladders.push(performance.now() - start);
    }
    return [
      {
        group: GROUP,
        what: 'proof of a frame after a change, median',
        shown: `${median(pictures).toFixed(0)} ms`,
        value: median(pictures),
        atMost: 500,
        timed: true,
      },
      {
        group: GROUP,
        what: 'all patches of the ladder after a change, median',
        shown: `${median(ladders).toFixed(0)} ms`,
        value: median(ladders),
        atMost: 300,
        timed: true,
      },
    ];
  } finally {
    await server.stop();
  }
}

/** Resident memory of a process, MiB: now, or the most it ever had. */
function memory(pid: number, figure: 'VmRSS' | 'VmHWM'): number {
  return Number(new RegExp(`${figure}:\\s+(\\d+)`).exec(readFileSync(`/proc/${pid}/status`, 'utf8'))?.[1]) / 1024;
}

/** The process that started another: the server starts the worker. */
const parent = (pid: number): number => Number(/PPid:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))?.[1]);

/** An hour of 480i: ten seconds over and over. */
function hour(work: string): string {
  const part = path.join(work, 'part.mkv'),
    whole = path.join(work, 'hour.mkv');
  timed([
    '-f',
    'lavfi',
    '-i',
    'testsrc2=size=720x480:rate=60000/1001:duration=10',
    '-vf',
    'interlace=scan=tff:lowpass=off,setsar=8/9',
    '-c:v',
    'mpeg2video',
    '-flags',
    '+ildct+ilme',
    '-b:v',
    '900k',
    part,
  ]);
  execFileSync('ffmpeg', ['-v', 'error', '-y', '-stream_loop', '359', '-i', part, '-c', 'copy', whole]);
  return whole;
}

export async function applicationMemory(work: string): Promise<Row[]> {
  const file = hour(work);
  const server = new TestServer();
  await server.start();
  try {
    const { item, plan } = await itemOf(server, file);
    await server.api(`items/${item.id}/plan`, { plan, change: 'as measured' }, 'PUT');
    const job = await server.api<{ id: string }>('jobs', { itemId: item.id });
    await new Promise((resolve) => setTimeout(resolve, 60_000));
    const [worker] = server.processes('worker.mjs');
    const host = parent(worker);
    await server.api(`jobs/${job.id}`, undefined, 'DELETE');
    const peak = memory(worker, 'VmHWM');

    const before = memory(host, 'VmRSS');
    const { id } = await server.api<Collection>('collections', { name: 'Uploads' });
    const sent = await upload(server, id, file);
    const growth = memory(host, 'VmRSS') - before;
    return [
      {
        group: GROUP,
        what: 'memory of the worker on an hour of 480i, two pieces at once',
        shown: `${peak.toFixed(0)} MiB`,
        value: peak,
        atMost: 1024,
      },
      {
        group: GROUP,
        what: `growth of the server over an upload of ${(sent / 2 ** 20).toFixed(0)} MiB`,
        shown: `${growth.toFixed(0)} MiB`,
        value: growth,
        atMost: 120,
      },
    ];
  } finally {
    await server.stop();
  }
}

/** Sends a file as the browser does, in pieces. @returns bytes sent. */
async function upload(server: TestServer, collection: string, file: string): Promise<number> {
  const { size } = statSync(file);
  const tus = { 'tus-resumable': '1.0.0' };
  const metadata = Object.entries({ filename: 'hour.mkv', collection })
    .map(([k, v]) => `${k} ${Buffer.from(v).toString('base64')}`)
    .join(',');
  const made = await fetch(`${server.url}/api/uploads`, {
    method: 'POST',
    headers: { ...tus, 'upload-length': String(size), 'upload-metadata': metadata },
  });
  const location = new URL(made.headers.get('location') ?? '', server.url).href;
  const bytes = readFileSync(file),
    piece = 16 * 2 ** 20;
  for (let from = 0; from < size; from += piece) {
    const answer = await fetch(location, {
      method: 'PATCH',
      headers: { ...tus, 'content-type': 'application/offset+octet-stream', 'upload-offset': String(from) },
      body: bytes.subarray(from, from + piece),
    });
    if (!answer.ok) throw new Error(await answer.text());
  }
  return size;
}
