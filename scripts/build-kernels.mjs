// Compiles the pixel kernels (AssemblyScript) to dist/kernels.wasm. Memory is imported, so that a thread decides its size.
import { mkdirSync } from 'node:fs';
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
