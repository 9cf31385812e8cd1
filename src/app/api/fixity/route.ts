import { archive, checkAll, type FixityResult } from '../../../archive';
import { handler, linesOf } from '../../http';

/** Holds all originals and deliveries against their checksums; answers a line of JSON for each as it is done. */
export const POST = handler(async () => {
  const a = await archive();
  return linesOf<FixityResult>((say, signal) => checkAll(a, say, signal));
});
