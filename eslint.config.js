import js from '@eslint/js';
import svelte from 'eslint-plugin-svelte';
import globals from 'globals';
import ts from 'typescript-eslint';
import prettier from 'eslint-config-prettier';
import svelteConfig from './app/svelte.config.js';

/** Forbids imports that would turn an arrow of the architecture round; `says` tells where the thing belongs. */
const forbid = (group, says) => ({ group, message: says });
const boundary = (files, ...patterns) => ({ files, rules: { 'no-restricted-imports': ['error', { patterns }] } });

const OUTSIDE_CORE = {
  regex: '^(?!\\.{1,2}/|temporal-polyfill$|chevrotain$|@noble/hashes/|@stdlib/|d3-format$|fft\\.js$)',
  message: 'The core stands on itself and a few packages for numbers, parsing and hashes.',
};
const OUTSIDE_FILES = {
  regex: '^(\\$lib|.*app/|@jaunty-ledger/(?!core$))',
  message: 'Files are read and written without a server, a store or a page.',
};
const OUTSIDE_CLI = {
  regex: '^(\\$lib/(?!api/|handover/|chart/)|.*server/|knex)',
  message:
    'The command line works on files, without a server or a store; of the application it has its pictures alone.',
};
const KNEX = forbid(['knex', '@photostructure/sqlite'], 'Only lib/server/store knows the database.');
const SERVER = forbid(['$lib/server/**', '**/server/**'], 'Pages and components fetch; they import no server code.');
const COMPONENTS = {
  regex: '/[A-Z][A-Za-z]*\\.svelte$',
  caseSensitive: true,
  message: 'Models and charts know no components.',
};
const PAGES = forbid(
  ['$lib/ledger/**', '$lib/records/**', '$lib/help/**'],
  'What several pages use knows none of them.',
);
const PLOTS = forbid(['$lib/plots/**'], 'Charts know numbers and pixels only.');

export default ts.config(
  {
    ignores: ['**/dist/', '**/build/', '**/build-jobs/', '**/.svelte-kit/', '**/node_modules/', 'core/test/reference/'],
  },
  js.configs.recommended,
  ...ts.configs.recommended,
  ...svelte.configs.recommended,
  prettier,
  ...svelte.configs.prettier,
  {
    languageOptions: { globals: { ...globals.browser, ...globals.node } },
    rules: {
      '@typescript-eslint/no-explicit-any': 'error',
      '@typescript-eslint/consistent-type-imports': 'error',
      '@typescript-eslint/no-unused-vars': [
        'error',
        { ignoreRestSiblings: true, varsIgnorePattern: '^_', argsIgnorePattern: '^_' },
      ],
      'no-undef': 'off', // the compiler knows better
      eqeqeq: 'error',
      'no-empty': ['error', { allowEmptyCatch: false }],
      'max-lines': ['warn', { max: 400, skipBlankLines: true }],
    },
  },
  {
    files: ['**/*.svelte', '**/*.svelte.ts'],
    languageOptions: { parserOptions: { parser: ts.parser, extraFileExtensions: ['.svelte'], svelteConfig } },
    rules: {
      'svelte/no-navigation-without-resolve': 'off', // the application is always served from the root
      'svelte/prefer-svelte-reactivity': 'off', // maps are replaced whole, never changed in place
    },
  },
  {
    // one set of controls: the library's in our theme
    files: ['app/src/**/*.svelte'],
    rules: {
      'svelte/no-restricted-html-elements': [
        'error',
        {
          elements: ['button', 'select', 'textarea', 'table', 'dialog'],
          message: "Take the control of lib/components, which is the library's in our theme.",
        },
      ],
    },
  },
  boundary(['core/src/**/*.ts'], OUTSIDE_CORE),
  boundary(['files/src/**/*.ts'], OUTSIDE_FILES),
  boundary(['cli/src/**/*.ts'], OUTSIDE_CLI),
  boundary(['app/src/**/*.{ts,svelte}'], KNEX),
  boundary(
    ['app/src/lib/{ledger,records,help,components}/**/*.{ts,svelte}', 'app/src/routes/**/*.svelte'],
    KNEX,
    SERVER,
  ),
  boundary(['app/src/lib/{ledger,records,help}/**/*.ts'], KNEX, SERVER, COMPONENTS),
  boundary(['app/src/lib/plots/**/*.svelte'], KNEX, SERVER, PAGES),
  boundary(['app/src/lib/plots/**/*.ts'], KNEX, SERVER, PAGES, COMPONENTS),
  boundary(['app/src/lib/{chart,compute}/**/*.svelte'], KNEX, SERVER, PAGES, PLOTS),
  boundary(['app/src/lib/{chart,compute}/**/*.ts'], KNEX, SERVER, PAGES, PLOTS, COMPONENTS),
  { files: ['app/src/lib/server/store/**/*.ts'], rules: { 'no-restricted-imports': 'off' } },
  { files: ['**/*.test.ts'], rules: { 'no-restricted-imports': 'off' } },
);
