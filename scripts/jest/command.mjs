import { join } from 'node:path';
import { ROOT } from '../lib/places.mjs';

/** How Jest is started so that it, and each of its workers, reads TypeScript: what node is given, and the environment. */
export const jestCommand = (args) => ({
  args: [join(ROOT, 'node_modules/jest/bin/jest.js'), ...args],
  env: {
    NODE_NO_WARNINGS: '1',
    NODE_OPTIONS: `--enable-source-maps --conditions=@loka/source --import ${new URL('./typescript.mjs', import.meta.url).href}`,
  },
});
