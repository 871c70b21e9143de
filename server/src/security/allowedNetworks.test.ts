import type { Config } from '../config.js';
import { AllowedNetworks, HostError } from './allowedNetworks.js';

const networks = (allowedNetworks: string[] | null, allowedSerial: string[] | null = null) =>
  new AllowedNetworks({ allowedNetworks, allowedSerial } as Config);
const code = async (work: () => unknown): Promise<string> => {
  try {
    await work();
    return 'allowed';
  } catch (error) {
    return (error as HostError).code;
  }
};

it.each([
  ['10.1.2.3', 'allowed'],
  ['10.2.0.0', 'host-forbidden'],
  ['127.0.0.1', 'host-forbidden'],
  ['169.254.169.254', 'host-forbidden'],
  ['fd00::17', 'allowed'],
  ['fe80::1', 'host-forbidden'],
  // The same address in the clothes of the other family.
  ['::ffff:10.1.2.3', 'allowed'],
  ['::ffff:127.0.0.1', 'host-forbidden'],
])('of 10.1.0.0/16 and fd00::/64, %s is %s', async (host, expected) => {
  const allowed = networks(['10.1.0.0/16', 'fd00::/64']);
  expect(await code(() => allowed.resolve(host))).toBe(expected);
  expect(allowed.allows(host)).toBe(expected === 'allowed');
});
it('a name counts by the address behind it, and that address is what is connected to', async () => {
  expect(await networks(['127.0.0.0/8', '::1/128']).resolve('localhost')).toMatch(/^(127\.0\.0\.1|::1)$/);
  expect(await code(() => networks(['10.0.0.0/8']).resolve('localhost'))).toBe('host-forbidden');
  expect(await code(() => networks(null).resolve('no-such-host.invalid'))).toBe('host-unknown'); // RFC 6761: never exists
});
it('a number that is no address is none', () => {
  for (const odd of ['', '10.1.2', '10.1.2.3.4', '0x7f.1', '10.1.2.3/8', ' 10.1.2.3'])
    expect(networks(['0.0.0.0/0']).allows(odd)).toBe(false);
});
it('by default loopback is among them', () => {
  expect(networks(null).allows('127.0.0.1')).toBe(true);
  expect(networks(null).allows('8.8.8.8')).toBe(false);
});
it.each(['everything', '10.0.0.0', '10.0.0.0/x', '10.0.0.0/33', 'fd00::/129', '10.0.0/8'])(
  'LOKA_ALLOWED_NETWORKS=%s is refused at the start, in words',
  (network) => expect(() => networks([network])).toThrow(/LOKA_ALLOWED_NETWORKS: “.*” is not a network/),
);
it.each([
  ['/dev/ttyUSB0', 'allowed'],
  ['/dev/serial/by-id/usb-adapter', 'allowed'],
  ['/dev/mem', 'host-forbidden'],
  ['/dev/tty/../mem', 'host-forbidden'],
  ['/dev/serial/../../etc/passwd', 'host-forbidden'],
  ['ttyUSB0', 'host-forbidden'],
])('serial port %s: %s', async (path, expected) =>
  expect(await code(() => networks(null).checkSerial(path))).toBe(expected),
);
it('the owner may name other ports', async () => {
  const owned = networks(null, ['/dev/pts/']);
  expect(await code(() => owned.checkSerial('/dev/pts/3'))).toBe('allowed');
  expect(await code(() => owned.checkSerial('/dev/ttyUSB0'))).toBe('host-forbidden');
});
