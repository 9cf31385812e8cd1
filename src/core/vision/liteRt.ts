import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { runInThisContext } from 'node:vm';
import { applicationRoot } from '../kernels/wasm';
import { packageFolder } from './packageWeights';

/** A network in LiteRT's format that is ready to run. */
export interface LiteModel {
  /** @returns every output, in the order of the file. */
  run(input: Float32Array, shape: number[]): Promise<Float32Array[]>;
}

interface Compiled {
  run(input: unknown): Promise<{ toTypedArray(): Float32Array; delete(): void }[]>;
}
interface LiteRt {
  loadLiteRt(folder: string): Promise<unknown>;
  loadAndCompile(model: Uint8Array, options: { accelerator: 'wasm' }): Promise<Compiled>;
  Tensor: new (data: Float32Array, shape: number[]) => { delete(): void };
}

let runtime: Promise<LiteRt> | undefined;

/** LiteRT expects a browser's worker; these few names are all it asks of one. They are global: only processes that measure load it. */
async function load(): Promise<LiteRt> {
  const scope = globalThis as unknown as Record<string, unknown>;
  scope.self = globalThis;
  scope.navigator ??= {};
  scope.WorkerGlobalScope = class {};
  scope.require = createRequire(path.join(applicationRoot(), 'package.json'));
  const folder = path.join(packageFolder('@litertjs/core'), 'wasm');
  scope.__dirname = folder;
  scope.__filename = path.join(folder, 'litert_wasm_internal.js');
  scope.importScripts = (file: string): void => {
    runInThisContext(readFileSync(file.startsWith('file:') ? fileURLToPath(file) : file, 'utf8'));
  };
  const module = (await import(/* turbopackIgnore: true */ '@litertjs/core')) as unknown as LiteRt;
  const { info, warn, error } = console;
  // What it says of accelerators that are not there is for its makers.
  Object.assign(console, { info: () => undefined, warn: () => undefined, error: () => undefined });
  try {
    await module.loadLiteRt(`${folder}/`);
  } finally {
    Object.assign(console, { info, warn, error });
  }
  return module;
}

/** A network out of a package. @param file in the package's folder. @param bytes where in it the network lies, if it holds several. */
export async function liteModel(packageName: string, file: string, bytes?: { start: number; end: number }): Promise<LiteModel> {
  runtime ??= load();
  const rt = await runtime;
  const weights = readFileSync(path.join(packageFolder(packageName), file));
  const model = await rt.loadAndCompile(new Uint8Array(weights.subarray(bytes?.start, bytes?.end)), { accelerator: 'wasm' });
  return {
    async run(input, shape) {
      const tensor = new rt.Tensor(input, shape);
      const outputs = await model.run(tensor);
      const values = outputs.map((output) => Float32Array.from(output.toTypedArray()));
      tensor.delete();
      outputs.forEach((output) => output.delete());
      return values;
    },
  };
}
