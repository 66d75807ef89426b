/* Circles among files, also those of types alone. The arrows between folders are in eslint.config.js. */
export default {
  forbidden: [{ name: 'no-circles', severity: 'error', from: {}, to: { circular: true } }],
  options: {
    doNotFollow: { path: ['node_modules', 'dist'] },
    exclude: { path: ['\\.svelte-kit', 'build'] },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.tools.json' },
    enhancedResolveOptions: { exportsFields: ['exports'], conditionNames: ['import', 'types', 'default'] },
  },
};
