import { QUALITY } from '@loka/core/series';
import { HostError } from '../../security/allowedNetworks.js';
import type { Fault } from '../runner.js';

/** Explains why a broker cannot be used to the person who has to fix it. */
export function explainMqttFault(
  error: unknown,
  { host, port, timeoutMs, tls }: { host: string; port: number; timeoutMs: number; tls: boolean },
): Fault {
  const fault = (kind: Fault['kind'], quality: number, message: string): Fault => ({
    kind,
    quality,
    message,
    linkDown: true,
    exception: null,
  });
  if (error instanceof HostError)
    return error.code === 'host-unknown'
      ? fault('unreachable', QUALITY.hostUnknown, error.message)
      : fault('not allowed', QUALITY.forbidden, error.message);
  const { code, message } = error as Error & { code?: string | number };
  const said = `${code ?? ''} ${message}`;
  if (/ECONNREFUSED/.test(said))
    return fault(
      'refused',
      QUALITY.refused,
      `${host} refuses port ${port}: the machine is there, but no broker listens. MQTT uses 1883, with TLS 8883.`,
    );
  if (
    /Not authorized|Bad user|bad username|authori[sz]/i.test(said) ||
    code === 4 ||
    code === 5 ||
    code === 134 ||
    code === 135
  )
    return fault(
      'refused',
      QUALITY.refused,
      `The broker ${host} does not let this user in (${message}). Check user and password.`,
    );
  if (/identifier rejected|client identifier/i.test(said))
    return fault(
      'refused',
      QUALITY.refused,
      `The broker ${host} does not accept the client id (${message}).`,
    );
  if (/certificate|CERT_|self.signed|altname|SSL|TLS/i.test(said))
    return fault(
      'refused',
      QUALITY.refused,
      `The broker’s certificate is not accepted (${message}). Give the certificate of the authority that signed it, or check that the host has the name in it.`,
    );
  if (/EHOSTUNREACH|ENETUNREACH|ETIMEDOUT|connack timeout/i.test(said))
    return fault(
      'unreachable',
      QUALITY.timeout,
      `${host} port ${port} gave no answer within ${timeoutMs} ms. Check the address, and whether the broker ${tls ? 'speaks TLS on this port' : 'expects TLS here'}.`,
    );
  return fault('connection lost', QUALITY.disconnected, `The broker ${host} port ${port}: ${message}.`);
}
