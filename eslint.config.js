import js from '@eslint/js';
import { createTypeScriptImportResolver } from 'eslint-import-resolver-typescript';
import { importX } from 'eslint-plugin-import-x';
import prettier from 'eslint-config-prettier';
import reactHooks from 'eslint-plugin-react-hooks';
import tseslint from 'typescript-eslint';

/** The folders of the core in their one direction: each imports from itself and from those before it. */
const LAYERS = [
  'model',
  'statistics',
  'time',
  'system',
  'import',
  'check',
  'passes',
  'storage',
  'books',
  'report',
  'views',
  'bookFile',
];
const BOOKS = ['account', 'capacity', 'losses', 'money', 'outage', 'parts', 'peak', 'solar', 'trial', 'wear'];
const noArrowUp = LAYERS.slice(0, -1).map((layer, i) => ({
  target: `./core/src/${layer}`,
  from: LAYERS.slice(i + 1).map((later) => `./core/src/${later}`),
  message: 'Dependencies run one way; see docs/architecture.md.',
}));
const noBookInBook = BOOKS.map((book) => ({
  target: `./core/src/books/${book}`,
  // What-if stands over the other books: it reads them as the report does, and none of them reads it.
  from: [...BOOKS, 'whatif'].filter((other) => other !== book).map((other) => `./core/src/books/${other}`),
  message: 'What two books need lies in books/shared.',
}));
const sharedBelowBooks = {
  target: './core/src/books/shared',
  from: [...BOOKS, 'whatif'].map((book) => `./core/src/books/${book}`),
  message: 'What books share does not read a book.',
};

const outsideCore = ['react*', 'dexie*', 'node:*', 'd3*', 'comlink', 'fs', 'path', '@reduxjs/*'];

export default tseslint.config(
  { ignores: ['**/dist/**', '.tsbuild/**', 'demo/homes/**', 'e2e/results/**'] },
  js.configs.recommended,
  {
    files: ['**/*.{ts,tsx}'],
    extends: [...tseslint.configs.strictTypeChecked],
    languageOptions: { parserOptions: { projectService: true, tsconfigRootDir: import.meta.dirname } },
    rules: {
      '@typescript-eslint/restrict-template-expressions': ['error', { allowNumber: true }],
      '@typescript-eslint/no-non-null-assertion': 'off',
      // A fifth of the time, for classes handed about as values and for enums, of which there are none.
      '@typescript-eslint/no-unsafe-class-instance-assignment': 'off',
      '@typescript-eslint/no-unsafe-enum-assignment': 'off',
      '@typescript-eslint/no-confusing-void-expression': ['error', { ignoreArrowShorthand: true }],
      '@typescript-eslint/no-unnecessary-condition': ['error', { allowConstantLoopConditions: true }],
    },
  },
  {
    files: ['core/src/**/*.ts'],
    ignores: ['core/src/**/*.test.ts', 'core/src/testing/**'],
    rules: {
      'no-restricted-imports': [
        'error',
        {
          patterns: [
            { group: outsideCore, message: 'The core runs anywhere: no DOM, React, Dexie or Node in it.' },
          ],
        },
      ],
      'no-restricted-syntax': [
        'error',
        {
          selector:
            'ImportExpression:not([source.value=/^(\\.\\u002fzipReader\\.js|read-excel-file\\u002funiversal)$/])',
          message: 'The core imports statically, all but the readers of archives and workbooks.',
        },
      ],
      'no-restricted-globals': ['error', 'window', 'document', 'process', 'Buffer', 'indexedDB', 'fetch'],
    },
  },
  {
    files: ['{core,app,cli,demo,server}/src/**/*.{ts,tsx}'],
    ignores: ['**/*.test.{ts,tsx}', 'core/src/testing/**'],
    plugins: { 'import-x': importX },
    settings: {
      ...importX.flatConfigs.typescript.settings,
      'import-x/resolver-next': [createTypeScriptImportResolver({ project: 'tsconfig.json' })],
    },
    rules: {
      'import-x/no-cycle': 'error',
      'import-x/no-restricted-paths': ['error', { zones: [...noArrowUp, ...noBookInBook, sharedBelowBooks] }],
    },
  },
  { files: ['app/src/**/*.{ts,tsx}'], ...reactHooks.configs.flat.recommended },
  {
    files: ['**/*.mjs', '*.js'],
    languageOptions: { globals: { process: 'readonly', console: 'readonly', URL: 'readonly' } },
  },
  prettier,
);
