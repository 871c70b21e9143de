/** How the TypeScript of the tests, and of what they test, is made JavaScript. */
export const SWC = {
  swcrc: false,
  jsc: {
    target: 'es2022',
    parser: { syntax: 'typescript', decorators: true },
    transform: { legacyDecorator: true, decoratorMetadata: true, useDefineForClassFields: false },
  },
  module: { type: 'es6' },
};
