import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import sharp from 'sharp';
import { openArchive, type Archive } from './database';
import { takeIn } from './intake';
import { archivePaths } from './paths';
import type { Item } from './types';

/** An archive for tests, in a folder of its own. */
export class TestArchive {
  private constructor(
    readonly root: string,
    readonly archive: Archive,
  ) {}

  static async open(): Promise<TestArchive> {
    const root = mkdtempSync(path.join(tmpdir(), 'wairetic-archive-'));
    return new TestArchive(root, await openArchive(archivePaths(path.join(root, 'archive'))));
  }

  async close(): Promise<void> {
    await this.archive.db.destroy();
    rmSync(this.root, { recursive: true });
  }

  /** A small print of one shade. */
  async print(name: string, shade: number): Promise<string> {
    const file = path.join(this.root, name);
    await sharp({ create: { width: 32, height: 32, channels: 3, background: { r: shade, g: 90, b: 60 } } })
      .png()
      .toFile(file);
    return file;
  }

  async itemIn(collection: string, shade: number): Promise<Item> {
    const name = `p${shade}.png`;
    const result = await takeIn(this.archive, collection, await this.print(name, shade), name, 'copy');
    if (!result.ok) throw new Error(result.message);
    return result.items[0];
  }
}
