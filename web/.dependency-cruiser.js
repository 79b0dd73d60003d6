/** Imports go down: neither files nor rooms of src lead back to themselves. */
export default {
  forbidden: [
    { name: 'no-circle', severity: 'error', from: {}, to: { circular: true } },
    { name: 'no-circle-of-rooms', severity: 'error', scope: 'folder', from: {}, to: { circular: true } },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    tsConfig: { fileName: 'tsconfig.json' },
    tsPreCompilationDeps: true,
  },
}
