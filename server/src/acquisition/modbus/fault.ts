import { exceptionInWords } from '@loka/core/registers';
import { exceptionQuality, QUALITY } from '@loka/core/series';
import type { FaultKind } from '@loka/contract/acquisition';
import { HostError } from '../../security/allowedNetworks.js';
import type { Fault } from '../runner.js';
import { PORT_NOT_OPEN, SERIAL_NOT_OPEN } from './connection.js';
import { OUT_OF_STEP, TIMED_OUT } from './step.js';

interface ModbusError extends Error {
  modbusCode?: number;
  code?: string;
  errno?: string | number;
}

const UNREACHABLE = new Set(['ETIMEDOUT', 'EHOSTUNREACH', 'ENETUNREACH', 'EHOSTDOWN']);
const LOST = new Set(['ECONNRESET', 'EPIPE', 'ERR_STREAM_DESTROYED']);

/** Explains an error of the connection or of the device to the person who has to fix it. */
export function explainFault(
  error: unknown,
  where: {
    kind?: string;
    host: string;
    port: number;
    path?: string;
    unit: number;
    timeoutMs: number;
    what: string;
    doing?: 'reading' | 'writing';
  },
): Fault {
  const { host, port, unit, timeoutMs, what } = where;
  const serial = where.kind === 'modbus-serial';
  const place = serial ? (where.path ?? '') : host;
  const fault = (kind: FaultKind, quality: number, message: string, linkDown: boolean): Fault => ({
    kind,
    quality,
    message,
    linkDown,
    exception: null,
  });
  if (error instanceof HostError)
    return fault(
      error.code === 'host-unknown' ? 'unreachable' : 'not allowed',
      error.code === 'host-unknown' ? QUALITY.hostUnknown : QUALITY.forbidden,
      error.message,
      true,
    );
  const { name, code, errno, message, modbusCode } = error as ModbusError;
  if (modbusCode !== undefined)
    return {
      kind: 'exception',
      quality: exceptionQuality(modbusCode),
      message: `Unit ${unit} answered ${exceptionInWords(modbusCode, where.doing)} (${what}).`,
      linkDown: false,
      exception: modbusCode,
    };
  const reason = String(code ?? errno ?? name);
  // The library says a closed port to be a refused one; its class tells them apart.
  if (reason === 'ECONNREFUSED' && name !== PORT_NOT_OPEN)
    return fault(
      'refused',
      QUALITY.refused,
      `${host} refuses port ${port}: the machine is there, but nothing listens. Check the port (Modbus TCP uses 502) and that the device’s Modbus server is switched on.`,
      true,
    );
  if (name === TIMED_OUT)
    return fault(
      'time-out',
      QUALITY.timeout,
      serial
        ? `Unit ${unit} gave no answer within ${timeoutMs} ms (${what}). A wrong unit id, baud rate or parity looks like this; so do swapped wires A and B, a missing terminator, or a device without power.`
        : `Unit ${unit} gave no answer within ${timeoutMs} ms (${what}). A wrong unit id looks like this; so does a device without power, or one that needs a longer time-out.`,
      false,
    );
  if (reason === OUT_OF_STEP)
    return fault(
      'late',
      QUALITY.badAnswer,
      `Unit ${unit} answered more often than it was asked (${what}): an earlier answer has come later than its time-out of ${timeoutMs} ms, and which one belongs to which question is not known. None is used. A longer time-out helps.`,
      false,
    );
  if (reason === SERIAL_NOT_OPEN)
    return fault(
      'unreachable',
      QUALITY.refused,
      `The serial port ${place} cannot be opened (${message}). Check that the adapter is plugged in, that its device file has this name, and that no other program holds it.`,
      true,
    );
  if (UNREACHABLE.has(reason))
    return fault(
      'unreachable',
      QUALITY.timeout,
      `${host} port ${port} cannot be reached. Check the cable, the power of the device, and that its address is right.`,
      true,
    );
  if (name === PORT_NOT_OPEN || LOST.has(reason))
    return fault(
      'connection lost',
      QUALITY.disconnected,
      `${place} closed the connection. Some devices allow only one at a time; look for another program that is connected.`,
      true,
    );
  return fault(
    'not understood',
    QUALITY.badAnswer,
    `Unit ${unit}: the answer could not be understood (${message}; ${what}).`,
    false,
  );
}
