import { transform, version } from '@swc/core';
import { createHash } from 'node:crypto';
import { existsSync } from 'node:fs';
import { mkdir, readFile, rename, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { threadId } from 'node:worker_threads';
import { ROOT } from '../lib/places.mjs';
import { SWC } from './swc.mjs';

const FOLDER = join(ROOT, 'node_modules', '.cache', 'loka-typescript');
const GLOBALS = new URL('./globals.mjs', import.meta.url).href;
await mkdir(FOLDER, { recursive: true });

/** TypeScript names what it imports by what it becomes: a `.js` beside it is a `.ts`. */
export function resolve(specifier, context, next) {
  if (specifier === '@jest/globals') return { url: GLOBALS, shortCircuit: true };
  const { parentURL } = context;
  if (specifier.startsWith('.') && specifier.endsWith('.js') && isTypeScript(parentURL)) {
    const source = new URL(specifier.replace(/\.js$/, '.ts'), parentURL);
    if (existsSync(source)) return { url: source.href, format: 'module', shortCircuit: true };
  }
  return next(specifier, context);
}

export async function load(url, context, next) {
  if (!isTypeScript(url)) return next(url, context);
  const file = fileURLToPath(url.replace(/\?.*$/, ''));
  const source = await readFile(file, 'utf8');
  return { format: 'module', source: await javaScript(file, source), shortCircuit: true };
}

const isTypeScript = (url) => url !== undefined && url.startsWith('file:') && /\.ts(\?|$)/.test(url);

/** Made once for a text at a place; kept over runs. */
async function javaScript(file, source) {
  const key = createHash('sha1')
    .update([version, JSON.stringify(SWC), file, source].join('\0'))
    .digest('hex');
  const kept = join(FOLDER, `${key}.js`);
  const known = await readFile(kept, 'utf8').catch((error) => {
    if (error.code === 'ENOENT') return null;
    throw error;
  });
  if (known !== null) return known;
  const { code } = await transform(source, { ...SWC, filename: file, sourceMaps: 'inline' });
  // Whole or not at all: a run that is killed leaves no half of a module.
  const half = `${kept}.${process.pid}.${threadId}`;
  await writeFile(half, code);
  await rename(half, kept);
  return code;
}
