/** The memory one thread's kernels work in: a stack of buffers in WebAssembly memory, grown when needed. */

/** First byte after the kernels' own data. */
const BASE = 65536;
const PAGE = 65536;

export class Arena {
  /** End of what is kept, where scopes start. */
  private base = BASE;
  private top = BASE;

  constructor(readonly memory: WebAssembly.Memory) {}

  /** Runs `work` and gives back everything it reserved, also when it throws. */
  scope<T>(work: () => T): T {
    const mark = this.top;
    try {
      return work();
    } finally {
      this.top = mark;
    }
  }

  /** Address of `bytes` fresh bytes on a 16-byte boundary, with slack for vector loads past the end. */
  reserve(bytes: number): number {
    const at = this.top;
    const end = at + Math.ceil(bytes / 16) * 16 + 64;
    const missing = end - this.memory.buffer.byteLength;
    if (missing > 0) this.memory.grow(Math.ceil(missing / PAGE));
    this.top = end;
    return at;
  }

  /**
   * Address of bytes that outlive scopes, until `forgetKept`.
   * @throws inside a scope.
   */
  keep(bytes: number): number {
    if (this.top !== this.base) throw new Error('kept memory is reserved outside of scopes');
    const at = this.reserve(bytes);
    this.base = this.top;
    return at;
  }

  /** Gives back everything that was kept. @throws inside a scope. */
  forgetKept(): void {
    if (this.top !== this.base) throw new Error('kept memory is given back outside of scopes');
    this.base = this.top = BASE;
  }

  put8(data: Uint8Array): number {
    const at = this.reserve(data.length);
    this.view8(at, data.length).set(data);
    return at;
  }

  put16(data: Uint16Array | Int16Array): number {
    return this.put8(new Uint8Array(data.buffer, data.byteOffset, data.byteLength));
  }

  putFloats(data: Float32Array): number {
    const at = this.reserve(data.byteLength);
    new Float32Array(this.memory.buffer, at, data.length).set(data);
    return at;
  }

  putInts(data: Int32Array): number {
    const at = this.reserve(data.byteLength);
    new Int32Array(this.memory.buffer, at, data.length).set(data);
    return at;
  }

  /** Copies out, so that the result outlives the scope. */
  take16(at: number, length: number): Uint16Array {
    return new Uint16Array(this.memory.buffer, at, length).slice();
  }

  takeFloats(at: number, length: number): Float32Array {
    return this.viewFloats(at, length).slice();
  }

  viewFloats(at: number, length: number): Float32Array {
    return new Float32Array(this.memory.buffer, at, length);
  }

  view8(at: number, length: number): Uint8Array {
    return new Uint8Array(this.memory.buffer, at, length);
  }

  view16(at: number, length: number): Uint16Array {
    return new Uint16Array(this.memory.buffer, at, length);
  }
}
