import { existsSync } from 'node:fs';
import { delimiter, join, resolve } from 'node:path';
import { fileURLToPath } from 'node:url';

export const ROOT = fileURLToPath(new URL('../..', import.meta.url)).replace(/\/$/, '');
/** Where everything is written that is not part of the project; elsewhere where the project may not be written. */
export const VAR = process.env.LOKA_DATA ? resolve(process.env.LOKA_DATA) : join(ROOT, 'var');

/** Where a program is, also one that only root has on its path. */
export const findProgram = (name) =>
  [...(process.env.PATH ?? '').split(delimiter), '/usr/sbin', '/usr/bin']
    .map((folder) => join(folder, name))
    .find((path) => existsSync(path));
