/** The rooms of the house and what each may import; docs/architecture.md says why. */
const rooms = {
  shared: [],
  core: ['shared'],
  media: ['shared', 'core'],
  archive: ['shared', 'core', 'media'],
  render: ['shared', 'core', 'media', 'archive'],
  app: ['shared', 'core', 'media', 'archive', 'render', 'ui', 'server'],
  cli: ['shared', 'core', 'media', 'archive', 'render'],
  server: [],
};

const outside = (name, allowed) => ({
  name: `${name}-imports`,
  comment: `src/${name} may import only ${allowed.length ? allowed.join(', ') : 'nothing of ours'}`,
  severity: 'error',
  from: { path: `^src/${name}/`, pathNot: '\\.test\\.ts$' },
  to: { path: '^(src|demo|bench|tests)/', pathNot: `^src/(${[name, ...allowed].join('|')})/` },
});

/** Rooms whose index says what others may use of them; all of `shared` is for all. */
const withIndex = ['core', 'media', 'archive', 'render'];

/** Tests may look at parts by themselves, and benches measure them. */
const throughIndex = (name) => ({
  name: `${name}-index`,
  comment: `other rooms use what src/${name}/index.ts exports`,
  severity: 'error',
  from: { path: '^(src|demo)/', pathNot: `^src/${name}/|\\.test\\.ts$|/testing` },
  to: { path: `^src/${name}/`, pathNot: `^src/${name}/index\\.ts$` },
});

module.exports = {
  forbidden: [
    ...Object.entries(rooms).map(([name, allowed]) => outside(name, allowed)),
    ...withIndex.map(throughIndex),
    {
      name: 'ui-places',
      comment: 'pages show whole places: the file of a folder that bears its name',
      severity: 'error',
      from: { path: '^src/app/' },
      to: { path: '^src/ui/', pathNot: '^src/ui/(\\w+)/(\\1|\\1Place|providers|shell)\\.tsx$' },
    },
    {
      name: 'ui-imports',
      comment: 'src/ui may import types of the rooms below, and code of the shared room alone',
      severity: 'error',
      from: { path: '^src/ui/', pathNot: '\\.test\\.ts$' },
      to: { path: '^(src|demo|bench|tests)/', pathNot: '^src/(ui|shared)/', dependencyTypesNot: ['type-only'] },
    },
    {
      name: 'ui-types',
      comment: 'and of core, media and archive only',
      severity: 'error',
      from: { path: '^src/ui/' },
      to: { path: '^src/(media|render|app|cli)/' },
    },
    {
      name: 'core-is-pure',
      comment: 'the core knows no files but its kernels and models, those of packages too, no processes, no network',
      severity: 'error',
      from: { path: '^src/core/', pathNot: '(\\.test\\.ts|kernels/wasm\\.ts|networks/model\\.ts|vision/(liteRt|packageWeights)\\.ts)$' },
      to: { path: '^(node:)?(fs|fs/promises|child_process|http|https|net|worker_threads)$' },
    },
    {
      name: 'demo-and-bench',
      comment: 'they use the core and the media room; everything else they use as anyone does, from outside',
      severity: 'error',
      from: { path: '^(demo/make|bench)/' },
      to: { path: '^src/(archive|render|app|ui|cli)/', dependencyTypesNot: ['type-only'] },
    },
    { name: 'no-circles', severity: 'error', from: {}, to: { circular: true, viaOnly: { dependencyTypesNot: ['type-only'] } } },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    exclude: { path: '^(\\.next|dist|src/core/kernels/assembly)' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.json' },
    enhancedResolveOptions: { extensions: ['.ts', '.tsx', '.mjs', '.js', '.json'] },
  },
};
