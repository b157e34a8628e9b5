// Mutants of the core: `npm run mutate`, or a part by `npm run mutate -- --mutate 'core/motion/**/*.ts'`. Not part of `npm test`.
export default {
  mutate: [
    'core/{delivery,media,sound,show,scene,motion}/**/*.ts',
    '!**/*.test.ts',
    // Records and numbers made for tests.
    '!core/{delivery,show}/sample-*.ts',
  ],
  testRunner: 'vitest',
  vitest: { configFile: 'tests/mutation/vitest.config.ts' },
  plugins: ['@stryker-mutator/vitest-runner'],
  coverageAnalysis: 'perTest',
  incremental: true,
  incrementalFile: 'reports/mutation/incremental.json',
  reporters: ['clear-text', 'json', 'progress-append-only'],
  clearTextReporter: { allowColor: false, logTests: false, reportTests: false },
  jsonReporter: { fileName: 'reports/mutation/mutation.json' },
  tempDirName: 'reports/stryker-tmp',
  concurrency: 2,
  disableTypeChecks: false,
  allowEmpty: false,
  ignorePatterns: ['/build', '/data', '/reports', '/docs', '/.react-router', '/app', '/public'],
};
