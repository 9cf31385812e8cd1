import { readFileSync } from 'node:fs';
import path from 'node:path';
import { Arena } from './arena';
import { bindKernels, type Kernels } from './bindings';

/** The kernels and the memory they work in. */
export interface KernelThread {
  run: Kernels;
  arena: Arena;
}

let loaded: KernelThread | undefined;

/** Where the application's own files lie: the checkout. */
export function applicationRoot(): string {
  return process.env.WAIRETIC_ROOT ?? process.cwd();
}

/**
 * The kernels of this thread, instantiated once.
 * @throws when `dist/kernels.wasm` has not been built.
 */
export function kernels(): KernelThread {
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
  loaded = { run: bindKernels(instance.exports), arena: new Arena(memory) };
  return loaded;
}
