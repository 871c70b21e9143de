import { spawnSync } from 'node:child_process';
import { jestCommand } from './command.mjs';

// npm run jest -- core/src/time      runs what is named so
const { args, env } = jestCommand(process.argv.slice(2));
process.exitCode =
  spawnSync(process.execPath, args, { stdio: 'inherit', env: { ...process.env, ...env } }).status ?? 1;
