// Bundles what runs outside the web server: the command line, the worker process, and the threads of both.
import { readFileSync, rmSync } from 'node:fs';
import { build } from 'esbuild';

const { dependencies } = JSON.parse(readFileSync('package.json', 'utf8'));
/** Packages of hundreds of small files that everything needs: in a bundle they load in a third of the time. */
const BUNDLED = ['class-transformer', 'class-validator'];
const external = Object.keys(dependencies).filter((name) => !BUNDLED.includes(name));

rmSync('dist/chunks', { recursive: true, force: true });

await build({
  entryPoints: {
    cli: 'src/cli/main.ts',
    server: 'src/server/main.ts',
    worker: 'src/render/worker.ts',
    'render-thread': 'src/render/renderThread.ts',
    examiner: 'src/render/examiner.ts',
    'proof-thread': 'src/render/proofThread.ts',
    'people-thread': 'src/render/peopleThread.ts',
  },
  outdir: 'dist',
  outExtension: { '.js': '.mjs' },
  // What is imported when it is needed is a file of its own.
  splitting: true,
  chunkNames: 'chunks/[name]-[hash]',
  bundle: true,
  platform: 'node',
  format: 'esm',
  target: 'node20',
  external: external.flatMap((name) => [name, `${name}/*`]),
  sourcemap: true,
  keepNames: true,
  logLevel: 'warning',
});
