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

/** Most numbers a kernel takes by their order; more are told by name. */
const MAX_POSITIONAL = 6;

// What the kernels take, as the compiler tells it: callers are checked against it.
const told = readFileSync('dist/kernels.d.ts', 'utf8');
for (const name of ['dist/kernels.d.ts', 'dist/kernels.js']) rmSync(name);
const kernels = [...told.matchAll(/export declare function (\w+)\((.*)\): (\w+);/g)].map(([, name, parameters, result]) => ({
  name,
  result,
  parameters: parameters.split(', ').map((parameter) => parameter.replaceAll('boolean', 'boolean | 0 | 1')),
  type: `${name[0].toUpperCase()}${name.slice(1)}Arguments`,
}));
const byName = kernels.filter(({ parameters }) => parameters.length > MAX_POSITIONAL);
const signature = ({ name, parameters, result }) => `  ${name}(${parameters.join(', ')}): ${result};\n`;
const argumentsOf = ({ type, parameters }) => `export type ${type} = { ${parameters.join('; ')} };\n`;
const caller = ({ name, parameters, type }) =>
  `    ${name}: (a: ${type}) =>\n      exported.${name}(${parameters.map((p) => `a.${p.split(':')[0]}`).join(', ')}),\n`;
const bindings = `// Written by scripts/build-kernels.mjs from src/core/kernels/assembly; not by hand.

/** The compiled kernels as WebAssembly exports them. */
interface ExportedKernels {
${kernels.map(signature).join('')}}

${byName.map(argumentsOf).join('')}
/**
 * The kernels as they are called: those of more than ${MAX_POSITIONAL} arguments take them by name. Arguments are addresses in the kernels' memory, sizes in
 * samples, and figures.
 */
export interface Kernels {
${kernels.map((kernel) => (byName.includes(kernel) ? `  ${kernel.name}(a: ${kernel.type}): ${kernel.result};\n` : signature(kernel))).join('')}}

/** Callers of an instance's exports. */
export function bindKernels(exports: WebAssembly.Exports): Kernels {
  const exported = exports as unknown as ExportedKernels;
  return {
    ...exported,
${byName.map(caller).join('')}  };
}
`;
const file = 'src/core/kernels/bindings.ts';
if (!existsSync(file) || readFileSync(file, 'utf8') !== bindings) writeFileSync(file, bindings);
