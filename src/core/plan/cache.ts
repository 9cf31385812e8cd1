import { contains, type Picture, type Region } from '../picture/picture';

/** Pictures kept under what they depend on, up to a number of bytes; the longest unused go first. */
export class PictureCache {
  private entries = new Map<string, { pictures: Picture[]; bytes: number }>();
  private held = 0;

  constructor(private readonly limit: number) {}

  find(key: string, frame: number, region: Region): Picture | undefined {
    const id = `${key}#${frame}`;
    const entry = this.entries.get(id);
    const found = entry?.pictures.find((p) => contains(p.region, region));
    if (entry && found) {
      this.entries.delete(id);
      this.entries.set(id, entry);
    }
    return found;
  }

  keep(key: string, frame: number, picture: Picture): void {
    const bytes = picture.planes.reduce((sum, p) => sum + p.data.byteLength, 0);
    if (bytes > this.limit) return;
    const id = `${key}#${frame}`;
    const entry = this.entries.get(id) ?? { pictures: [], bytes: 0 };
    this.entries.delete(id);
    entry.pictures.push(picture);
    entry.bytes += bytes;
    this.held += bytes;
    this.entries.set(id, entry);
    for (const [old, { bytes: freed }] of this.entries) {
      if (this.held <= this.limit || old === id) break;
      this.entries.delete(old);
      this.held -= freed;
    }
  }
}
