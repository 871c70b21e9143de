import { rmSync } from 'node:fs';

export default async function globalTeardown() {
  await globalThis.__loka.database.stop();
  rmSync(globalThis.__loka.folder, { recursive: true, force: true });
}
