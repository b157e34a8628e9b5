import importX from 'eslint-plugin-import-x';
import reactHooks from 'eslint-plugin-react-hooks';
import globals from 'globals';
import tseslint from 'typescript-eslint';

const OUTSIDE_CORE = ['./app', './engine', './protocol', './server', './standins', './db'];

export default tseslint.config(
  { ignores: ['build/', '**/*.as.ts', 'node_modules/', '.react-router/', 'data/'] },
  ...tseslint.configs.recommended,
  {
    files: ['**/*.{ts,tsx}'],
    plugins: { 'import-x': importX, 'react-hooks': reactHooks },
    settings: { 'import-x/resolver': { typescript: true } },
    rules: {
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      '@typescript-eslint/consistent-type-imports': ['error', { disallowTypeAnnotations: false }],
      'react-hooks/rules-of-hooks': 'error',
      'react-hooks/exhaustive-deps': 'error',
      'import-x/no-cycle': ['error', { maxDepth: 12 }],
      // core ← protocol ← { engine, server, standins, app }
      'import-x/no-restricted-paths': [
        'error',
        {
          basePath: import.meta.dirname,
          zones: [
            { target: './core', from: OUTSIDE_CORE, message: 'core imports nothing but core' },
            {
              target: './protocol',
              from: ['./app', './engine', './server', './standins', './db'],
              message: 'protocol imports core only',
            },
            {
              target: './engine',
              from: ['./server', './app', './db', './standins/platforms'],
              message: 'engine and server never meet',
            },
            {
              target: './server',
              from: ['./engine', './app', './standins'],
              message: 'server and engine never meet',
            },
            {
              target: './standins',
              from: ['./engine', './server', './app', './db'],
              message: 'stand-ins use core and protocol',
            },
          ],
        },
      ],
    },
  },
  {
    files: ['core/**/*.ts'],
    ignores: ['**/*.test.ts'],
    rules: {
      'no-restricted-globals': [
        'error',
        'window',
        'document',
        'process',
        'Buffer',
        'performance',
        'setTimeout',
        'setInterval',
        'fetch',
      ],
      'no-restricted-imports': ['error', { patterns: ['node:*', 'react*', '@mui/*'] }],
    },
  },
  { files: ['scripts/**/*.mjs'], languageOptions: { globals: globals.node } },
);
