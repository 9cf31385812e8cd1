import { execFileSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import type { PlainPlan } from '../src/shared/plan';
import type { Delivery, Job, JobProgress } from '../src/archive/types';
import { accessible, collectionWith, demoMedia, expect, settled, test } from './fixtures';
import { makeInterlaced } from './media';
import type { TestServer } from './server';
import type { ItemAnswer } from '../src/archive';

let folder = '',
  clip = '',
  disc = '',
  portrait = '';

test.beforeAll(async ({ server }) => {
  folder = mkdtempSync(path.join(tmpdir(), 'wairetic-queue-'));
  makeInterlaced(path.join(folder, 'clip.mkv'), 4);
  const { items } = await collectionWith(
    server,
    'Queued',
    path.join(folder, 'clip.mkv'),
    demoMedia('Regatta disc, title 1.mkv'),
    demoMedia('Portrait of a child.tif'),
  );
  const find = (name: string): string => items.find((i) => i.name.startsWith(name))?.id ?? '';
  [clip, disc, portrait] = [find('clip'), find('Regatta'), find('Portrait')];
});
test.afterAll(() => rmSync(folder, { recursive: true }));

const jobOf = async (server: TestServer, id: string): Promise<JobProgress | undefined> =>
  (await server.api<JobProgress[]>('jobs')).find((j) => j.id === id);

/** Waits for a job and gives what it delivered. */
async function delivered(server: TestServer, id: string): Promise<Delivery> {
  await expect.poll(async () => (await jobOf(server, id))?.state, { timeout: 180_000 }).toBe('done');
  return (await server.api<Delivery[]>('deliveries')).find((d) => d.jobId === id) as Delivery;
}

const sums = (d: Delivery): Record<string, string> =>
  Object.fromEntries(d.files.filter((f) => f.kind === 'master' || f.kind === 'access').map((f) => [f.kind, f.sha256]));
const fileOf = (server: TestServer, d: Delivery, kind: string): string =>
  path.join(server.home, 'deliveries', d.folder, d.files.find((f) => f.kind === kind)?.fileName ?? '');

function streams(file: string): Record<string, unknown>[] {
  const told = execFileSync('ffprobe', ['-v', 'error', '-count_packets', '-show_streams', '-of', 'json', file]).toString();
  return (JSON.parse(told) as { streams: Record<string, unknown>[] }).streams;
}

/** SHA-256 of a track's coded packets. */
const packets = (file: string, track: string): string =>
  execFileSync('ffmpeg', ['-v', 'error', '-i', file, '-map', track, '-c', 'copy', '-f', 'hash', '-']).toString();

test('a title goes from the bench through the queue to its delivery', async ({ page, server }) => {
  await page.goto(`${server.url}/items/${disc}`);
  await settled(page);
  await page
    .getByTestId('step-upscale')
    .getByRole('button', { name: /^Upscale/ })
    .click();
  await page.getByLabel('Target', { exact: true }).selectOption('factor');
  await page.getByLabel('Factor', { exact: true }).fill('1');
  await page.getByLabel('Factor', { exact: true }).press('Enter');
  await expect(page.getByTestId('step-upscale')).toContainText('640 × 480');
  await page.getByRole('button', { name: 'Add to queue' }).click();
  const dialog = page.getByRole('dialog', { name: 'Add to the queue' });
  await expect(dialog).toContainText('640 × 480, 59.94p, 420 frames');
  await dialog.getByLabel('File names').fill('{collection}/{item}');
  await expect(dialog.getByRole('alert')).toContainText('{kind}');
  await expect(dialog.getByRole('button', { name: 'Add to queue' })).toBeDisabled();
  await dialog.getByLabel('File names').fill('{collection} - {item} - {kind}');
  await expect(dialog.getByRole('list', { name: 'Names as they will be' })).toContainText('Queued - Regatta disc, title 1 - master.mkv');
  await accessible(page);
  await dialog.getByRole('button', { name: 'Add to queue' }).click();
  await dialog.waitFor({ state: 'hidden' });
  await page.goto(`${server.url}/queue`);
  const row = page.getByTestId('job').first();
  await expect(row).toContainText(/[1-9]\d* of 420/);
  await expect(row).toContainText(/\d\.\d{3}/);
  await accessible(page);
  await expect(row).toHaveAttribute('data-state', 'done', { timeout: 180_000 });
  await row.getByRole('link', { name: 'Delivery' }).click();
  const delivery = page.getByTestId('delivery').first();
  for (const name of [
    'Regatta disc, title 1.mkv',
    'Queued - Regatta disc, title 1 - master.mkv',
    'Queued - Regatta disc, title 1 - access.mp4',
    'Queued - Regatta disc, title 1 - provenance.json',
  ]) {
    await expect(delivery.getByRole('link', { name, exact: true })).toBeVisible();
  }
  await accessible(page);

  // Every file is what its checksum says, also when fetched through the browser.
  const [record] = (await server.api<Delivery[]>('deliveries')).filter((d) => d.itemId === disc);
  for (const file of record.files) {
    const answer = await server.fetch(`/api/deliveries/${record.id}/${encodeURIComponent(file.fileName)}`);
    expect(
      createHash('sha256')
        .update(Buffer.from(await answer.arrayBuffer()))
        .digest('hex'),
    ).toBe(file.sha256);
  }
  const original = demoMedia('Regatta disc, title 1.mkv'),
    master = fileOf(server, record, 'master'),
    access = fileOf(server, record, 'access');
  expect(readFileSync(fileOf(server, record, 'original'))).toEqual(readFileSync(original));
  // Twice the frames, all tracks with their languages and flags, the sound bit for bit.
  const [video, ...tracks] = streams(master);
  expect(video).toMatchObject({
    codec_name: 'ffv1',
    width: 640,
    height: 480,
    nb_read_packets: '420',
    field_order: 'progressive',
    color_space: 'smpte170m',
  });
  expect(
    tracks.map((t) => {
      const flags = t.disposition as { default: number; forced: number };
      return [t.codec_name, (t.tags as { language: string }).language, flags.default, flags.forced];
    }),
  ).toEqual([
    ['ac3', 'eng', 1, 0],
    ['ac3', 'fre', 0, 0],
    ['dvd_subtitle', 'eng', 0, 0],
    ['dvd_subtitle', 'fre', 1, 0],
    ['dvd_subtitle', 'fre', 0, 1],
  ]);
  for (const track of ['0:a:0', '0:a:1']) expect(packets(master, track)).toBe(packets(original, track));
  const copy = streams(access);
  expect(copy[0]).toMatchObject({ codec_name: 'h264', nb_read_packets: '420', r_frame_rate: '60000/1001', pix_fmt: 'yuv420p' });
  // Chapters are a track of text here.
  const heard = copy.filter((t) => t.codec_type === 'audio');
  expect(heard.map((t) => [t.codec_name, (t.tags as { language: string }).language])).toEqual([
    ['aac', 'eng'],
    ['aac', 'fre'],
  ]);
  // MP4 cannot hold these subtitles: they lie beside it, and the record says so.
  expect(record.files.filter((f) => f.kind === 'subtitles')).toHaveLength(3);
  expect(record.notes.join(' ')).toMatch(/subtitle/i);
  const provenance = JSON.parse(readFileSync(fileOf(server, record, 'provenance'), 'utf8')) as {
    source: { sha256: string };
    deliverables?: unknown;
  };
  expect(provenance.source.sha256).toBe(createHash('sha256').update(readFileSync(original)).digest('hex'));
});

test('a still becomes a 16-bit master and a JPEG with their pixels per inch, and a second delivery replaces nothing', async ({
  server,
}) => {
  const first = await delivered(server, (await server.api<Job>('jobs', { itemId: portrait, ppi: 600 })).id);
  const second = await delivered(
    server,
    (await server.api<Job>('jobs', { itemId: portrait, ppi: 600, stillMaster: 'png', stillAccess: 'webp', accessQuality: 80 })).id,
  );
  expect(second.folder).not.toBe(first.folder);
  const { default: sharp } = await import('sharp');
  const tiff = await sharp(fileOf(server, first, 'master')).metadata();
  expect(tiff).toMatchObject({ format: 'tiff', depth: 'ushort', density: 600, width: 1120, height: 1400 });
  expect(await sharp(fileOf(server, second, 'master')).metadata()).toMatchObject({ format: 'png', depth: 'ushort' });
  expect(await sharp(fileOf(server, first, 'access')).metadata()).toMatchObject({ format: 'jpeg', density: 600 });
  expect(fileOf(server, second, 'access')).toMatch(/\.webp$/);
  expect(await sharp(fileOf(server, second, 'access')).metadata()).toMatchObject({ format: 'webp', width: 1120 });
  const raw = (file: string) => sharp(file, { ignoreIcc: true }).toColourspace('rgb16').raw({ depth: 'ushort' }).toBuffer();
  expect((await raw(fileOf(server, first, 'master'))).equals(await raw(fileOf(server, second, 'master')))).toBe(true);
});

test('a job is cancelled; nothing of it is left and the original is as it was', async ({ page, server }) => {
  const { id } = await server.api<Job>('jobs', { itemId: disc });
  await page.goto(`${server.url}/queue`);
  const row = page.getByTestId('job').first();
  await expect(row).toContainText(/[1-9]\d* of 420/);
  await row.getByRole('button', { name: 'Cancel' }).click();
  await expect(row).toHaveAttribute('data-state', 'cancelled');
  await expect.poll(() => readdirSync(path.join(server.home, 'work'))).not.toContain(id);
  expect((await server.api<Delivery[]>('deliveries')).some((d) => d.jobId === id)).toBe(false);
});

test('killing the worker, and the whole machine, in mid-render gives the same bytes as an undisturbed render', async ({ server }) => {
  // A size that renders in seconds, yet not in one.
  const { plan } = await server.api<ItemAnswer>(`items/${clip}`);
  const steps = (plan?.plan as PlainPlan).steps.map((s) =>
    s.treatment === 'upscale' ? { ...s, settings: { ...s.settings, target: '720p' } } : s,
  );
  await server.api(`items/${clip}/plan`, { plan: { ...plan?.plan, steps }, change: 'smaller' }, 'PUT');
  const undisturbed = await delivered(server, (await server.api<Job>('jobs', { itemId: clip })).id);

  const halfWay = async (id: string): Promise<void> => {
    await expect(async () => {
      const job = await jobOf(server, id);
      expect(job?.framesDone ?? 0).toBeGreaterThan(30);
    }).toPass({ intervals: [100], timeout: 120_000 });
    expect((await jobOf(server, id))?.state).toBe('running');
  };
  const killed = (await server.api<Job>('jobs', { itemId: clip })).id;
  await halfWay(killed);
  const [worker] = server.processes('worker.mjs');
  process.kill(worker, 'SIGKILL');
  expect(sums(await delivered(server, killed))).toEqual(sums(undisturbed));

  const cut = (await server.api<Job>('jobs', { itemId: clip })).id;
  await halfWay(cut);
  server.kill();
  await server.start();
  expect(sums(await delivered(server, cut))).toEqual(sums(undisturbed));
  expect(Object.keys(sums(undisturbed))).toEqual(['master', 'access']);
});
