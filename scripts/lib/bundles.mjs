import { existsSync, mkdirSync, readFileSync, renameSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { ROOT } from './places.mjs';

const FOLDER = join(ROOT, 'node_modules', '.cache', 'loka-jest');

/**
 * Libraries of hundreds of small modules, which Jest would read one by one for each file of tests: as one module each,
 * otherwise as they are, or only what is used of them. Only such as keep no state that another library shares.
 */
const LIBRARIES = {
  // The whole of it makes each of its functions when it is loaded.
  'mathjs/number': ['create', 'parseDependencies'],
  'es-toolkit/compat': [],
};

/** Makes the bundles that are missing or of another version. @returns what Jest is to read for each, by pattern */
export async function bundles() {
  const mapped = {};
  for (const [library, used] of Object.entries(LIBRARIES)) {
    const [name] = library.split('/');
    const { version } = JSON.parse(readFileSync(join(ROOT, 'node_modules', name, 'package.json'), 'utf8'));
    const file = [library.replace('/', '-'), ...used, `${version}.mjs`].join('-');
    if (!existsSync(join(FOLDER, file))) keep(file, await bundled(library, used));
    mapped[`^${library}$`] = join(FOLDER, file);
  }
  return mapped;
}

async function bundled(library, used) {
  const names = used.length > 0 ? `{ ${used.join(', ')} }` : '*';
  const { build } = await import('vite');
  const [{ output }] = await build({
    configFile: false,
    logLevel: 'warn',
    root: ROOT,
    build: {
      write: false,
      target: 'node20',
      minify: false,
      lib: { entry: 'bundle', formats: ['es'], fileName: 'bundle' },
    },
    plugins: [
      {
        name: 'bundle',
        resolveId: (id) => (id === 'bundle' || id === join(ROOT, 'bundle') ? '\0bundle' : null),
        load: (id) => (id === '\0bundle' ? `export ${names} from '${library}';` : null),
      },
    ],
  });
  return output[0].code;
}

/** Whole or not at all: a run that is killed leaves nothing that the next one takes for a library. */
function keep(file, code) {
  mkdirSync(FOLDER, { recursive: true });
  const half = join(FOLDER, `${file}.${process.pid}`);
  writeFileSync(half, code);
  renameSync(half, join(FOLDER, file));
}
