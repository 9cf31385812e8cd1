import { execFileSync } from 'node:child_process';
import path from 'node:path';
import type { Page } from '@playwright/test';
import { randomStream } from '../src/core/picture/random';
import type { TestServer } from '../tests/server';
import { settled, takenIn, untilSeen } from './page';

const CAMCORDER = path.resolve(import.meta.dirname, '../demo/media/Christmas Eve, camcorder.mpg');
const SECONDS = 15 * 60;
const JUMPS = 12;

/** Milliseconds until each is seen. */
export interface Seen {
  source: number;
  first: number;
}

/** The demo's camcorder tape over and over, until it is as long as a real one: 480i, opened and jumped about in while its traces are measured. */
export async function longTape(page: Page, server: TestServer, work: string): Promise<{ opened: Seen; jumps: Seen[] }> {
  const file = path.join(work, 'long tape.mkv');
  execFileSync('ffmpeg', [
    ...['-v', 'error', '-y', '-stream_loop', '-1', '-i', CAMCORDER],
    ...['-t', String(SECONDS), '-map', '0:v', '-map', '0:a?', '-c', 'copy', '-fflags', '+genpts', file],
  ]);
  const { id } = await takenIn(server, { name: 'Long tape' }, file);
  await page.goto(`${server.url}/collections/${id}`);
  const link = page.getByTestId('item').first().getByRole('link').first();
  await link.hover();
  const opened = await untilSeen(page, () => link.click(), { source: 'stage.source !== undefined', first: 'bar.first !== undefined' });
  const ruler = await page.getByTestId('playhead').locator('..').boundingBox();
  if (!ruler) throw new Error('no time ruler');
  const random = randomStream(15);
  const jumps: Seen[] = [];
  for (let n = 0; n < JUMPS; n++) {
    await settled(page);
    const before = await page.getByTestId('stage').getAttribute('data-source');
    const x = ruler.x + ruler.width * (0.02 + 0.96 * random());
    const seen = await untilSeen(page, () => page.mouse.click(x, ruler.y + ruler.height / 2), {
      source: `stage.source !== undefined && stage.source !== '${before}'`,
      first: `stage.frame !== '${before}'`,
    });
    jumps.push({ source: seen.source, first: seen.first });
  }
  return { opened: { source: opened.source, first: opened.first }, jumps };
}
