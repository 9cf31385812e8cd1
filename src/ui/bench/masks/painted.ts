import { TILE, type PaintedDocument, type PaintedStore } from '../../../shared/masks/painted';

/** Tiles and documents kept by the page. */
const TILES_KEPT = 400,
  DOCUMENTS_KEPT = 60;

/** Answers kept by their key; the longest unused goes first. */
class Kept<T> {
  private readonly known = new Map<string, Promise<T>>();
  constructor(private readonly most: number) {}
  get(key: string, ask: () => Promise<T>): Promise<T> {
    const answer = this.known.get(key) ?? ask();
    this.known.delete(key);
    this.known.set(key, answer);
    answer.catch(() => this.known.delete(key));
    for (const old of this.known.keys()) if (this.known.size > this.most) this.known.delete(old);
    return answer;
  }
}

const documents = new Kept<PaintedDocument>(DOCUMENTS_KEPT);
const tiles = new Kept<Uint8Array>(TILES_KEPT);

async function bytesOf(hash: string): Promise<Response> {
  const response = await fetch(`/api/marks/${hash}`);
  if (!response.ok) throw new Error('the painted mask cannot be read');
  return response;
}

async function inflated(hash: string): Promise<Uint8Array> {
  const { body } = await bytesOf(hash);
  if (!body) throw new Error('the painted mask is empty');
  const whole = new Uint8Array(await new Response(body.pipeThrough(new DecompressionStream('deflate'))).arrayBuffer());
  if (whole.length !== TILE * TILE) throw new Error('the painted mask is damaged');
  return whole;
}

/** Painted masks as the server keeps them. */
export const paintedOnServer: PaintedStore = {
  document: (hash) => documents.get(hash, async () => (await (await bytesOf(hash)).json()) as PaintedDocument),
  tile: (hash) => tiles.get(hash, () => inflated(hash)),
};
