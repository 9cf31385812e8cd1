import { LRUCache } from 'lru-cache';
import { contains, type Picture, type Region } from '../picture/picture';

const bytesOf = (pictures: Picture[]): number =>
  pictures.reduce((sum, { planes }) => sum + planes.reduce((s, p) => s + p.data.byteLength, 0), 0);

/** Pictures kept under what they depend on, up to a number of bytes; the longest unused go first. */
export class PictureCache {
  /** Parts of one frame each; undefined where the limit is 0. */
  private readonly entries?: LRUCache<string, Picture[]>;

  constructor(private readonly limit: number) {
    if (limit > 0) this.entries = new LRUCache({ maxSize: limit, sizeCalculation: (pictures) => Math.max(1, bytesOf(pictures)) });
  }

  find(key: string, frame: number, region: Region): Picture | undefined {
    return this.entries?.get(`${key}#${frame}`)?.find((p) => contains(p.region, region));
  }

  keep(key: string, frame: number, picture: Picture): void {
    const id = `${key}#${frame}`;
    const parts = [...(this.entries?.peek(id) ?? []), picture];
    // Parts that are too many together give way to the newest.
    this.entries?.set(id, bytesOf(parts) > this.limit ? [picture] : parts);
  }

  /** Lets go of all. */
  clear(): void {
    this.entries?.clear();
  }
}
