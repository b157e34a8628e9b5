import importX from 'eslint-plugin-import-x';
import reactHooks from 'eslint-plugin-react-hooks';
import globals from 'globals';
import tseslint from 'typescript-eslint';

/** Time is an argument: a clock of one's own could not be driven. */
const CLOCKS = ['performance', 'setTimeout', 'setInterval', 'clearTimeout', 'clearInterval'].map((name) => ({
  name,
  message: 'takes a Clock (core/time/clock.ts) instead',
}));
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
  {
    files: ['engine/**/*.ts', 'server/relay/**/*.ts'],
    ignores: ['**/*.test.ts', 'engine/system-clock.ts', 'engine/audio/mixer.worklet.ts'],
    rules: {
      'no-restricted-globals': ['error', ...CLOCKS],
      'no-restricted-properties': [
        'error',
        { object: 'Date', property: 'now', message: 'takes a Clock instead' },
      ],
      'no-restricted-syntax': [
        'error',
        {
          selector: "NewExpression[callee.name='Date'][arguments.length=0]",
          message: 'takes a Clock instead',
        },
      ],
    },
  },
  {
    // One client asks everything, so that it can hold who is asking.
    files: ['tests/**/*.ts', 'scripts/**/*.{ts,mjs}'],
    ignores: ['scripts/lib/studio-client.mjs', 'tests/lib/driven-desk.ts'],
    rules: {
      'no-restricted-globals': [
        'error',
        { name: 'fetch', message: 'goes through scripts/lib/studio-client.mjs' },
      ],
    },
  },
  {
    // Their texts stand in app/words: whole, to be corrected and translated in one place.
    files: ['app/**/*.tsx'],
    // Sentences with figures between their words are left in these.
    ignores: [
      'app/delivery/{account-line,destination-row,keeping-panel,line-dialog,plan-change,plan-values,trial-dialog}.tsx',
      'app/root.tsx',
      'app/sound/match-dialog.tsx',
      'app/vault/{recording-list,room-dialog}.tsx',
    ],
    rules: {
      'no-restricted-syntax': [
        'error',
        { selector: 'JSXText[value=/\\p{L}{2}/u]', message: 'stands in app/words' },
        {
          selector:
            'JSXAttribute[name.name=/^(label|title|aria-label|placeholder|helperText|alt)$/] > Literal[value=/\\p{L}{2}/u]',
          message: 'stands in app/words',
        },
      ],
    },
  },
  {
    // No compiler looks at these.
    files: ['**/*.mjs', '**/*.cjs', '*.js'],
    languageOptions: { globals: globals.node },
    rules: { 'no-undef': 'error' },
  },
);
