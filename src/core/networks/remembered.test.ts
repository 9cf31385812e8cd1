import { describe, expect, it } from 'vitest';
import { forgetAll, remembered } from './remembered';

describe('work that is remembered', () => {
  const counted = () => {
    let times = 0;
    const ask = remembered<number>(100);
    return {
      ask: (parts: (ArrayBufferView | string)[], fails = false) =>
        ask(parts, () => (fails ? Promise.reject(new Error('no')) : Promise.resolve(++times))),
      times: () => times,
    };
  };

  it('is done once for the same samples, wherever they lie', async () => {
    const { ask, times } = counted();
    const samples = new Uint16Array([9, 1, 2, 3]);
    expect(await ask(['a', samples.subarray(1)])).toBe(1);
    expect(await ask(['a', Uint16Array.of(1, 2, 3)])).toBe(1);
    expect(await ask(['b', Uint16Array.of(1, 2, 3)])).toBe(2);
    expect(times()).toBe(2);
  });

  it('is done again when it failed, and when all was forgotten', async () => {
    const { ask, times } = counted();
    await expect(ask(['a'], true)).rejects.toThrow('no');
    expect(await ask(['a'])).toBe(1);
    forgetAll();
    expect(await ask(['a'])).toBe(2);
    expect(times()).toBe(2);
  });
});
