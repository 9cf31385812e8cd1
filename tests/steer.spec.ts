import { execFile, execFileSync } from 'node:child_process';
import { appendFileSync, chmodSync } from 'node:fs';
import path from 'node:path';
import { promisify } from 'node:util';
import type { PlainPlan } from '../src/shared/plan';
import type { Delivery, Job, JobProgress } from '../src/archive/types';
import { accessible, collectionWith, demoMedia, expect, test } from './fixtures';
import { ROOT, type TestServer } from './server';
import type { ItemAnswer } from '../src/archive';

let disc = '',
  portrait = '';

test.beforeAll(async ({ server }) => {
  const { items } = await collectionWith(server, 'Steered', demoMedia('Regatta disc, title 1.mkv'), demoMedia('Portrait of a child.tif'));
  [disc, portrait] = ['Regatta', 'Portrait'].map((name) => items.find((i) => i.name.startsWith(name))?.id ?? '');
  // Fields alone, at best: long enough to be steered, and no longer.
  const { plan } = await server.api<ItemAnswer>(`items/${disc}`);
  const steps = (plan?.plan as PlainPlan).steps.map((s) =>
    s.treatment === 'deinterlace' ? { ...s, settings: { ...s.settings, quality: 'best' } } : { ...s, on: false },
  );
  await server.api(`items/${disc}/plan`, { plan: { ...plan?.plan, steps }, change: 'fields alone' }, 'PUT');
});

const jobs = (server: TestServer): Promise<JobProgress[]> => server.api<JobProgress[]>('jobs');
const cli = (server: TestServer, ...args: string[]): string =>
  execFileSync(path.join(ROOT, 'bin/wairetic'), args, {
    env: { ...process.env, WAIRETIC_HOME: server.home, WAIRETIC_ROOT: ROOT },
  }).toString();

test('a job is paused, looked into, goes on, is moved by keys, cancelled and run again', async ({ page, server }) => {
  const first = await server.api<Job>('jobs', { itemId: disc }),
    second = await server.api<Job>('jobs', { itemId: disc, original: false });
  await page.goto(`${server.url}/queue`);
  const rows = page.getByTestId('job');
  const own = rows.nth(0);
  // A piece is done: it can be looked at beside its source.
  await own.getByRole('button', { name: 'Look in' }).click({ timeout: 120_000 });
  const dialog = page.getByRole('dialog', { name: /as it is made/ });
  for (const name of ['The source', 'What is made of it'])
    await expect.poll(() => dialog.getByRole('img', { name }).evaluate((img: HTMLImageElement) => img.naturalWidth)).toBeGreaterThan(300);
  await accessible(page);
  await dialog.getByRole('button', { name: 'Close' }).click();

  await own.getByRole('button', { name: 'Pause' }).click();
  await expect(own).toHaveAttribute('data-state', 'paused');
  await expect(own).toContainText('paused by hand');
  // The next one goes on meanwhile; what the first has made stays.
  await expect(rows.nth(1)).toHaveAttribute('data-state', 'running');
  const kept = (await jobs(server)).find((j) => j.id === first.id)?.segmentsDone ?? 0;
  expect(kept).toBeGreaterThan(0);
  await own.getByRole('button', { name: 'Go on' }).click();
  await expect(own).toHaveAttribute('data-state', 'running');
  expect((await jobs(server)).find((j) => j.id === first.id)?.segmentsDone).toBeGreaterThanOrEqual(kept);

  await server.api('queue', { paused: true }, 'PATCH');
  await own.getByRole('button', { name: /^Move/ }).focus();
  for (const [key, heard] of [
    ['Space', 'is held at place 1 of 2'],
    ['ArrowDown', 'is held at place 2 of 2'],
    ['Space', 'is set down at place 2 of 2'],
  ]) {
    await page.keyboard.press(key);
    await expect(page.getByText(heard)).toBeAttached();
  }
  await expect.poll(async () => (await jobs(server))[0].id).toBe(second.id);
  await expect(rows.nth(0)).toHaveAttribute('data-job', second.id);

  // And by the pointer, from the first place past the middle of the second.
  const from = await rows.nth(0).getByRole('button', { name: /^Move/ }).boundingBox(),
    to = await rows.nth(1).boundingBox();
  if (!from || !to) throw new Error('the rows are not shown');
  const x = from.x + from.width / 2;
  await page.mouse.move(x, from.y + from.height / 2);
  await page.mouse.down();
  await page.mouse.move(x, to.y + to.height / 2 + 4, { steps: 6 });
  await expect(page.getByText('is held at place 2 of 2')).toBeAttached();
  await page.mouse.up();
  await expect.poll(async () => (await jobs(server))[0].id).toBe(first.id);

  for (const { id } of [first, second]) await server.api(`jobs/${id}`, undefined, 'DELETE');
  await rows.filter({ hasText: 'cancelled' }).first().getByRole('button', { name: 'Run again' }).click();
  await expect.poll(async () => (await jobs(server)).map((j) => j.state)).toContain('queued');
  for (const job of await jobs(server))
    if (job.state === 'queued' || job.state === 'running') await server.api(`jobs/${job.id}`, undefined, 'DELETE');
  await server.api('queue', { paused: false }, 'PATCH');
});

test('the queue rests when it is told to, on the page and on the command line', async ({ page, server }) => {
  await page.goto(`${server.url}/queue`);
  await page.getByRole('button', { name: 'Pause the queue' }).click();
  await expect(page.getByText('nothing runs')).toBeVisible();
  const { id } = await server.api<Job>('jobs', { itemId: portrait, original: false });
  expect(cli(server, 'queue')).toMatch(/queue: paused/);
  await page.getByLabel('Works from').fill('22:00');
  await page.getByLabel('to', { exact: true }).fill('06:30');
  await page.getByLabel('with at most').fill('1');
  await page.getByLabel('with at most').blur();
  await expect.poll(() => cli(server, 'queue')).toContain('works from 22:00 to 06:30; 1 threads');
  await accessible(page);
  expect((await jobs(server)).find((j) => j.id === id)?.state).toBe('queued');
  cli(server, 'queue', 'hours', 'off');
  cli(server, 'queue', 'threads', 'off');
  expect(cli(server, 'queue', 'resume')).toContain('open');
  await expect.poll(async () => (await jobs(server)).find((j) => j.id === id)?.state, { timeout: 120_000 }).toBe('done');
  expect(() => cli(server, 'queue', 'pause', id)).toThrow(/cannot be paused: it is done/);
  expect(() => cli(server, 'queue', 'threads', 'many')).toThrow(/takes a number/);
});

test('a delivered file that changed is found, said, and not handed out in silence', async ({ page, server }) => {
  const { id } = await server.api<Job>('jobs', { itemId: portrait, original: false });
  await expect.poll(async () => (await jobs(server)).find((j) => j.id === id)?.state, { timeout: 120_000 }).toBe('done');
  const delivery = (await server.api<Delivery[]>('deliveries')).find((d) => d.jobId === id) as Delivery;
  await page.goto(`${server.url}/deliveries`);
  await page.getByRole('button', { name: 'Check all originals and deliveries' }).click();
  await expect(page.getByTestId('fixity')).toContainText('all as they were');
  expect(cli(server, 'verify')).toContain('0 not as they were');

  const file = path.join(server.home, 'deliveries', delivery.folder, delivery.files[0].fileName);
  chmodSync(file, 0o644);
  appendFileSync(file, 'x');
  await page.getByTestId('delivery').first().getByRole('button', { name: 'Check' }).click();
  await expect(page.getByTestId('delivery').first()).toContainText('its checksum differs');
  await accessible(page);
  const route = `/api/deliveries/${delivery.id}/${encodeURIComponent(delivery.files[0].fileName)}`;
  expect((await server.fetch(route)).status).toBe(409);
  expect((await server.fetch(`${route}?anyway=1`)).status).toBe(200);
  expect(() => cli(server, 'verify')).toThrow();
});

test('a second server on the same archive says who has it, and pages name their scripts', async ({ server }) => {
  const environment = { ...process.env, WAIRETIC_HOME: server.home, WAIRETIC_ROOT: ROOT };
  // Not in one go: connections that the server closes meanwhile must be seen to be closed.
  const second = promisify(execFile)(path.join(ROOT, 'bin/wairetic'), ['serve', '--port', '0'], { env: environment, timeout: 60_000 });
  await expect(second).rejects.toThrow(/Another server works on this archive: process \d+/);
  const page = await server.fetch('/');
  const policy = page.headers.get('content-security-policy') ?? '';
  const nonce = /'nonce-([\w-]+)'/.exec(policy)?.[1];
  expect(nonce).toBeTruthy();
  expect(policy).not.toMatch(/script-src[^;]*unsafe/);
  for (const [, attributes] of (await page.text()).matchAll(/<script([^>]*)>/g)) expect(attributes).toContain(`nonce="${nonce}"`);
  const options = await server.fetch('/api/uploads', { method: 'OPTIONS' });
  expect(options.headers.get('access-control-allow-origin')).toBeNull();
});
