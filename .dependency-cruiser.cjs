/** Circles, also those that only types make: an import of a type is an arrow like any other. */
module.exports = {
  forbidden: [{ name: 'no-circle', severity: 'error', from: {}, to: { circular: true } }],
  options: {
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.json' },
    doNotFollow: { path: 'node_modules' },
    exclude: { path: '(node_modules|^build/|\\.react-router)' },
  },
};
