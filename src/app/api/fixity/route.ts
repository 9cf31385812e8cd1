import { archive } from '../../../archive/database';
import { checkAll, type FixityResult } from '../../../archive/fixity';
import { handler } from '../../http';

/** Holds all originals and deliveries against their checksums; answers a line of JSON for each as it is done. */
export const POST = handler(async (request) => {
  const a = await archive();
  const stream = new ReadableStream<Uint8Array>({
    async start(controller) {
      const say = (result: FixityResult): void => controller.enqueue(new TextEncoder().encode(`${JSON.stringify(result)}\n`));
      await checkAll(a, say, request.signal);
      if (!request.signal.aborted) controller.close();
    },
  });
  return new Response(stream, { headers: { 'content-type': 'application/x-ndjson', 'cache-control': 'no-cache, no-transform' } });
});
