// Compiles the pixel kernels (AssemblyScript) to dist/kernels.wasm. Memory is imported, so that a thread decides its size.
import { existsSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import asc from 'assemblyscript/asc';

mkdirSync('dist', { recursive: true });
const { error, stderr } = await asc.main([
  'src/core/kernels/assembly/index.ts',
  '--outFile',
  'dist/kernels.wasm',
  '--enable',
  'simd',
  '-O3',
  '--noAssert',
  '--runtime',
  'stub',
  '--bindings',
  'esm',
  '--importMemory',
  '--initialMemory',
  '1',
  '--maximumMemory',
  '65536',
]);
if (error) {
  process.stderr.write(stderr.toString());
  process.exit(1);
}

// What the kernels take, as the compiler tells it: callers are checked against it.
const told = readFileSync('dist/kernels.d.ts', 'utf8');
for (const name of ['dist/kernels.d.ts', 'dist/kernels.js']) rmSync(name);
const methods = [...told.matchAll(/export declare function (\w+)\((.*)\): (\w+);/g)].map(
  ([, name, parameters, result]) => `  ${name}(${parameters.replaceAll('boolean', 'boolean | 0 | 1')}): ${result};\n`,
);
const bindings = `// Written by scripts/build-kernels.mjs from src/core/kernels/assembly; not by hand.

/** The compiled kernels; arguments are addresses in their memory, sizes in samples, and figures. */
export interface KernelExports {
${methods.join('')}}
`;
const file = 'src/core/kernels/bindings.ts';
if (!existsSync(file) || readFileSync(file, 'utf8') !== bindings) writeFileSync(file, bindings);
