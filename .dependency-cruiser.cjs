/** The direction of imports, folder by folder. */
module.exports = {
  forbidden: [
    { name: 'no-circular', severity: 'error', from: {}, to: { circular: true, dependencyTypesNot: ['type-only'] } },
    {
      name: 'core-stands-alone',
      comment: 'core knows nothing of the server, the interface, Node.js or the DOM',
      severity: 'error',
      from: { path: '^core/', pathNot: '[.]test[.]ts$' },
      to: { path: '^(charts|server|web|demo|e2e|bench)/' },
    },
    {
      name: 'core-is-platform-free',
      severity: 'error',
      from: { path: '^core/', pathNot: '([.]test[.]ts|testing/)' },
      to: { dependencyTypes: ['core'] },
    },
    {
      name: 'charts-know-only-core',
      severity: 'error',
      from: { path: '^charts/', pathNot: '[.]test[.]ts$' },
      to: { path: '^(server|web|demo|e2e|bench)/' },
    },
    { name: 'server-knows-no-interface', severity: 'error', from: { path: '^server/' }, to: { path: '^web/' } },
    {
      name: 'server-knows-no-demo',
      severity: 'error',
      from: { path: '^server/', pathNot: '[.]test[.]ts$' },
      to: { path: '^(demo|e2e|bench)/' },
    },
    {
      name: 'web-knows-only-core',
      severity: 'error',
      from: { path: '^web/', pathNot: '[.]test[.]ts$' },
      to: { path: '^(server|demo|e2e|bench)/' },
    },
    {
      name: 'folders-have-doors',
      comment: "a folder's index.ts is its door; nothing reaches past it",
      severity: 'error',
      from: { path: '^(core|server)/([^/]+)/', pathNot: '[.]test[.]ts$' },
      to: { path: '^(core|server)/([^/]+)/(?!index[.]ts$)', pathNot: ['^$1/$2/', '^core/formula/grammar/'] },
    },
    {
      name: 'drivers-name-their-package',
      comment: 'the rest of the server knows databases by the port of server/drivers, and its own by server/database',
      severity: 'error',
      from: { path: '^server/', pathNot: '([.]test[.]ts$|^server/(database|drivers/postgresql)/)' },
      to: { path: 'node_modules/(pg|pg-cursor)/' },
    },
    {
      name: 'engine-only-through-the-reader',
      comment: 'access rules are added in the dataset reader: nothing else may ask the engine about records',
      severity: 'error',
      from: { path: '^server/(reports|http|imports|people)/' },
      to: { path: '^server/data/(engine|engine-worker|load-worker|loader)[.]ts$' },
    },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    exclude: { path: '^(core|charts|server|web|demo|e2e|bench)/(node_modules|dist)/' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.json' },
    enhancedResolveOptions: { exportsFields: ['exports'], conditionNames: ['import', 'types', 'default'] },
  },
};
