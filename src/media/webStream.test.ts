import { Readable } from 'node:stream';
import { describe, expect, it } from 'vitest';
import { webStream } from './webStream';

const letters = (): Readable => Readable.from(['a', 'b', 'c'].map((c) => Buffer.from(c)));

describe('a stream for a response', () => {
  it('gives all that the source gives', async () => {
    expect(await new Response(webStream(letters())).text()).toBe('abc');
  });

  it('ends its source when nobody reads any more, whatever is under way', async () => {
    const source = letters();
    const reader = webStream(source).getReader();
    await reader.read();
    const next = reader.read();
    await reader.cancel();
    await next;
    expect(source.destroyed).toBe(true);
    expect(await reader.read()).toEqual({ done: true, value: undefined });
  });

  it('fails where its source does', async () => {
    const source = new Readable({ read: () => undefined });
    const reading = new Response(webStream(source)).text();
    source.destroy(new Error('the disk is gone'));
    await expect(reading).rejects.toThrow('the disk is gone');
  });
});
