/** Which floors and folders may import which (docs/architecture.md): imports go down, and never round. */
module.exports = {
  forbidden: [
    {
      name: 'no-cycle-of-folders',
      comment: 'Two folders of a floor that need one another are one idea, or hide a third.',
      severity: 'error',
      scope: 'folder',
      from: {},
      to: { circular: true },
    },
    {
      name: 'declares-what-it-imports',
      comment: 'A package whose manifest does not name what it imports works by chance.',
      severity: 'error',
      from: {},
      to: { dependencyTypes: ['npm-no-pkg', 'npm-unknown'] },
    },
    {
      name: 'no-cycle-of-files',
      severity: 'error',
      from: {},
      to: { circular: true },
    },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    exclude: { path: '(^|/)(dist|node_modules|var)/|\\.test\\.ts$|\\.spec\\.ts$' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.tests.json' },
    enhancedResolveOptions: {
      conditionNames: ['@loka/source', 'types', 'import'],
      extensions: ['.ts', '.tsx', '.js'],
    },
  },
};
