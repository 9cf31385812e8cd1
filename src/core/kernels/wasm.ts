import { readFileSync } from 'node:fs';
import path from 'node:path';
import { Arena } from './arena';
import type { KernelExports } from './bindings';

export interface Kernels {
  run: KernelExports;
  arena: Arena;
}

let loaded: Kernels | undefined;

/** Where the application's own files lie: the checkout. */
export function applicationRoot(): string {
  return process.env.WAIRETIC_ROOT ?? process.cwd();
}

/**
 * The kernels of this thread, instantiated once.
 * @throws when `dist/kernels.wasm` has not been built.
 */
export function kernels(): Kernels {
  if (loaded) return loaded;
  const file = path.join(/* turbopackIgnore: true */ applicationRoot(), 'dist', 'kernels.wasm');
  let bytes: Buffer;
  try {
    bytes = readFileSync(file);
  } catch {
    throw new Error(`the pixel kernels are not built: ${file} is missing; "npm run build:kernels" makes it`);
  }
  const memory = new WebAssembly.Memory({ initial: 1, maximum: 65536 });
  const instance = new WebAssembly.Instance(new WebAssembly.Module(new Uint8Array(bytes)), {
    env: {
      memory,
      abort: () => {
        throw new Error('a pixel kernel stopped');
      },
    },
  });
  loaded = { run: instance.exports as unknown as KernelExports, arena: new Arena(memory) };
  return loaded;
}
