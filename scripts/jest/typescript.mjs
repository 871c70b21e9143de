import { register } from 'node:module';

// For node's --import: what is written in TypeScript is read as it is, without a build before.
register('./typescriptHooks.mjs', import.meta.url);
