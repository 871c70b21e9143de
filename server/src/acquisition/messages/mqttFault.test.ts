import { QUALITY } from '@loka/core/series';
import { HostError } from '../../security/allowedNetworks.js';
import { explainMqttFault } from './mqttFault.js';

const broker = { host: 'broker.local', port: 1883, timeoutMs: 1000, tls: false };
const error = (message: string, code?: string | number) => Object.assign(new Error(message), { code });

// Codes of CONNACK: MQTT 3.1.1, table 3.1 (4 bad user name or password, 5 not authorized); MQTT 5.0, 3.2.2.2 (0x86, 0x87).
it.each([
  [error('connect ECONNREFUSED 127.0.0.1:1883', 'ECONNREFUSED'), 'refused', /no broker listens.*8883/],
  [error('Connection refused: Not authorized', 5), 'refused', /does not let this user in/],
  [error('Connection refused: x', 4), 'refused', /Check user and password/],
  [error('Connection refused: y', 134), 'refused', /Check user and password/],
  [error('Connection refused: z', 135), 'refused', /Check user and password/],
  [error('Connection refused: Identifier rejected', 2), 'refused', /client id/],
  [error('self-signed certificate', 'DEPTH_ZERO_SELF_SIGNED_CERT'), 'refused', /certificate is not accepted/],
  [
    error('Hostname/IP does not match certificate’s altnames', 'ERR_TLS_CERT_ALTNAME_INVALID'),
    'refused',
    /name in it/,
  ],
  [error('connack timeout'), 'unreachable', /within 1000 ms.*expects TLS here/],
  [error('connect EHOSTUNREACH', 'EHOSTUNREACH'), 'unreachable', /Check the address/],
  [error('read ECONNRESET', 'ECONNRESET'), 'connection lost', /broker\.local port 1883: read ECONNRESET/],
] as const)('%s', (cause, kind, words) => {
  const fault = explainMqttFault(cause, broker);
  expect(fault).toMatchObject({ kind, linkDown: true, message: expect.stringMatching(words) });
});
it('a broker that speaks TLS is looked at from the other side', () => {
  expect(explainMqttFault(error('connack timeout'), { ...broker, tls: true }).message).toContain(
    'whether the broker speaks TLS on this port',
  );
});
it('a host that is not allowed, or that nobody knows, says so itself', () => {
  expect(explainMqttFault(new HostError('host-forbidden', 'not there'), broker)).toMatchObject({
    kind: 'not allowed',
    quality: QUALITY.forbidden,
    message: 'not there',
  });
  expect(explainMqttFault(new HostError('host-unknown', 'who?'), broker)).toMatchObject({
    kind: 'unreachable',
    quality: QUALITY.hostUnknown,
  });
});
