import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { needPrograms } from '../../../scripts/lib/machine.mjs';
import { startMariadb } from '../../../scripts/lib/mariadb.mjs';

/** One MariaDB of our own for all server tests; each test file makes its own database in it. */
export default async function globalSetup() {
  await needPrograms('mariadbd');
  const folder = mkdtempSync(join(tmpdir(), 'loka-test-'));
  // Each of six workers has a Loka with its pool, or two where one follows the other, and the test's own.
  const database = await startMariadb(folder, { fast: true, connections: 250 });
  Object.assign(process.env, database.env);
  globalThis.__loka = { database, folder };
}
