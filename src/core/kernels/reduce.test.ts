import fc from 'fast-check';
import { expect, it } from 'vitest';
import { newPlane } from '../picture/picture';
import { randomStream } from '../picture/random';
import { reducedArea } from './reduce';
import { referenceReduce } from './reference/reduce';

it('reduces as the reference does, whatever the sizes', () => {
  const side = fc.integer({ min: 1, max: 40 });
  fc.assert(
    fc.property(side, side, fc.nat(999), fc.double({ min: 0.03, max: 1, noNaN: true }), (width, height, seed, by) => {
      const random = randomStream(seed);
      const plane = newPlane(width, height);
      plane.data.forEach((_, i) => (plane.data[i] = random() * 65536));
      const [w, h] = [Math.max(1, Math.round(width * by)), Math.max(1, Math.floor(height * by))];
      const [made, wanted] = [reducedArea(plane, w, h), referenceReduce(plane, w, h)];
      expect([made.width, made.height]).toEqual([w, h]);
      // A sum's last bit may decide how a half is rounded.
      made.data.forEach((v, i) => expect(Math.abs(v - wanted.data[i])).toBeLessThanOrEqual(1));
    }),
  );
});
