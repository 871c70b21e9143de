import { mkdtempSync, rmSync, existsSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { ConfigError, readConfig } from './config.js';

const folder = mkdtempSync(join(tmpdir(), 'loka-config-'));
afterAll(() => rmSync(folder, { recursive: true }));
const read = (env: Record<string, string>) => readConfig({ LOKA_DATA: folder, ...env });

it('without settings listens on loopback only and allows only the usual networks and ports', () => {
  expect(read({})).toMatchObject({
    port: 8420,
    host: '127.0.0.1',
    webFolder: null,
    allowedNetworks: null,
    allowedSerial: null,
    acquire: true,
    database: { host: '127.0.0.1', port: 3306, user: 'loka', password: '', name: 'loka' },
  });
  expect(existsSync(join(folder, 'spool'))).toBe(true);
});
it('takes lists with spaces in them, and a process that does not poll', () => {
  expect(
    read({
      LOKA_ALLOWED_NETWORKS: '10.0.0.0/24, fd00::/8',
      LOKA_ALLOWED_SERIAL: '/dev/ttyUSB , /dev/ttyS',
      LOKA_ACQUIRE: '0',
    }),
  ).toMatchObject({
    allowedNetworks: ['10.0.0.0/24', 'fd00::/8'],
    allowedSerial: ['/dev/ttyUSB', '/dev/ttyS'],
    acquire: false,
  });
});
it.each(['70000', '-1', 'http', '80.5'])('says which setting is no port: %s', (value) => {
  expect(() => read({ LOKA_DB_PORT: value })).toThrow(ConfigError);
  expect(() => read({ LOKA_DB_PORT: value })).toThrow(`LOKA_DB_PORT=${value}`);
});
