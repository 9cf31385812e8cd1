// Bundles what runs outside the web server: the command line, the worker process, and the threads of both.
import { build } from 'esbuild';

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
  bundle: true,
  platform: 'node',
  format: 'esm',
  target: 'node20',
  packages: 'external',
  sourcemap: true,
  keepNames: true,
  logLevel: 'warning',
});
