import { kernels } from './wasm';

/**
 * Codes of 16 bits at a file's depth, rounded. In full range the largest code stays the largest; in limited range codes of
 * two depths lie powers of two apart (ITU-R BT.601).
 *
 * @param data 16-bit codes.
 * @param depth bits to write, 8 to 16.
 * @param out takes the codes, from `at` on: bytes for 8 bits, else words.
 */
export function narrow(data: Uint16Array, depth: number, full: boolean, out: Uint8Array | Uint16Array, at: number): void {
  const { run, arena } = kernels();
  arena.scope(() => {
    const to = arena.reserve(data.byteLength);
    run.narrowCodes(arena.put16(data), data.length, depth, full, to);
    out.set(depth === 8 ? arena.view8(to, data.length) : arena.view16(to, data.length), at);
  });
}

/**
 * A file's codes as codes of 16 bits, of which `narrow` makes the file's again.
 *
 * @param bytes the file's samples as it holds them: bytes for 8 bits, else words with the low byte first.
 * @param out takes as many codes as it holds.
 */
export function widen(bytes: Uint8Array, depth: number, full: boolean, out: Uint16Array): void {
  const { run, arena } = kernels();
  arena.scope(() => {
    const from = arena.put8(bytes),
      to = arena.reserve(out.byteLength);
    if (depth === 8) run.widenBytes(from, out.length, full, to);
    else run.widenWords(from, out.length, depth, full, to);
    out.set(arena.view16(to, out.length));
  });
}
