import { archive, readDocument } from '../../../../archive';
import { handler } from '../../../http';

/** A document of hand work, or a tile of one, as it is kept. It never changes. */
export const GET = handler(async (_request, context: { params: Promise<{ hash: string }> }) => {
  const { hash } = await context.params;
  const bytes = await readDocument((await archive()).paths.marks, hash);
  return new Response(new Uint8Array(bytes), {
    headers: { 'content-type': 'application/octet-stream', 'cache-control': 'private, max-age=31536000, immutable' },
  });
});
