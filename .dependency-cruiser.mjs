/* Circles among files, also those of types alone, and which folder of the application may import which. What is not in this
   table is not allowed: neither an import, nor a folder. Packages are guarded in eslint.config.js. */

const FOLDERS = {
  access: ['api', 'components'],
  api: ['works'],
  arrow: [],
  beside: ['api', 'chart', 'components', 'pictures', 'plots'],
  chart: ['components'],
  compare: ['api', 'beside', 'chart', 'components', 'handover', 'pages', 'pictures', 'plots', 'works'],
  components: ['api'],
  compute: ['api', 'arrow'],
  examine: ['api', 'beside', 'chart', 'components', 'handover', 'pages', 'pictures', 'plots', 'works'],
  handover: ['access', 'api', 'chart', 'components', 'pages', 'plots', 'works'],
  help: ['api', 'components', 'compute', 'plots'],
  ledger: [...['access', 'api', 'beside', 'chart', 'components', 'compute', 'examine', 'handover', 'plots', 'records']],
  pages: ['access', 'api', 'components', 'pictures', 'plots', 'records', 'works'],
  pictures: ['chart', 'components', 'plots'],
  plots: ['api', 'beside', 'chart', 'components', 'compute'],
  project: ['api', 'chart', 'components', 'handover', 'pages', 'pictures', 'plots', 'works'],
  records: ['access', 'api', 'chart', 'components', 'plots', 'works'],
  roll: ['api', 'chart', 'components', 'handover', 'pages', 'pictures', 'plots', 'works'],
  server: ['api', 'compute', 'handover', 'ledger', 'works'],
  works: ['api'],
};

const LIB = '^app/src/lib/';
const TESTS = '\\.test\\.ts$|storesOfTests';
/** What answers a work; `work.ts` and the calls beside it are for pages too. */
const SERVER_SIDE_OF_WORKS = `${LIB}works/\\w+/(run|answer|stream)\\.ts$`;
const anyOf = (names) => `(${names.join('|')})/`;

export default {
  forbidden: [
    { name: 'no-circles', severity: 'error', from: {}, to: { circular: true } },
    ...Object.entries(FOLDERS).map(([folder, allowed]) => ({
      name: `imports-of-${folder}`,
      severity: 'error',
      from: { path: `${LIB}${folder}/`, pathNot: `${TESTS}|${SERVER_SIDE_OF_WORKS}` },
      to: { path: `${LIB}|^app/src/routes/`, pathNot: LIB + anyOf([folder, ...allowed]) },
    })),
    {
      name: 'folders-of-the-table',
      severity: 'error',
      from: { path: `${LIB}(?!${anyOf(Object.keys(FOLDERS))})` },
      to: {},
    },
    {
      name: 'works-are-answered-on-the-server',
      severity: 'error',
      from: { path: `${LIB}|^app/src/routes/`, pathNot: `${LIB}(server|works)/|\\+server\\.ts$|${TESTS}` },
      to: { path: SERVER_SIDE_OF_WORKS },
    },
    {
      name: 'pages-import-no-server-code',
      severity: 'error',
      from: { path: '^app/src/routes/.*(\\.svelte|\\+page\\.ts|\\+layout\\.ts)$' },
      to: { path: `${LIB}server/` },
    },
  ],
  options: {
    doNotFollow: { path: ['node_modules', 'dist'] },
    exclude: { path: ['\\.svelte-kit', 'build'] },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.tools.json' },
    enhancedResolveOptions: { exportsFields: ['exports'], conditionNames: ['import', 'types', 'default'] },
  },
};
