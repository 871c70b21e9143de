import { exceptionInWords } from '@loka/core/registers';
import { QUALITY } from '@loka/core/series';
import { HostError } from '../security/allowedNetworks.js';

/** Why a request to a device came to nothing: the quality its points get, and the words for the screen. */
export interface Fault {
  quality: number;
  message: string;
  /** Nothing can be reached over the link; false where only this unit is at fault. */
  linkDown: boolean;
  /** Exception code of the protocol, if that is what came back. */
  exception: number | null;
}

interface ModbusError extends Error {
  modbusCode?: number;
  code?: string;
  errno?: string | number;
}

/** Explains an error of the connection or of the device to the person who has to mend it. */
export function explainFault(
  error: unknown,
  where: { host: string; port: number; unit: number; timeoutMs: number; what: string },
): Fault {
  const { host, port, unit, timeoutMs, what } = where;
  const fault = (quality: number, message: string, linkDown: boolean): Fault => ({
    quality,
    message,
    linkDown,
    exception: null,
  });
  if (error instanceof HostError)
    return fault(
      error.code === 'host-unknown' ? QUALITY.hostUnknown : QUALITY.forbidden,
      error.message,
      true,
    );
  const { name, code, errno, message, modbusCode } = error as ModbusError;
  if (modbusCode !== undefined)
    return {
      quality: QUALITY.exception + modbusCode,
      message: `Unit ${unit} answered ${exceptionInWords(modbusCode)} (${what}).`,
      linkDown: false,
      exception: modbusCode,
    };
  const reason = String(code ?? errno ?? name);
  if (/ECONNREFUSED/.test(reason))
    return fault(
      QUALITY.refused,
      `${host} refuses port ${port}: the machine is there, but nothing listens. Check the port (Modbus TCP uses 502) and that the device’s Modbus server is switched on.`,
      true,
    );
  if (/TransactionTimedOut|Timed out/.test(`${name} ${message}`))
    return fault(
      QUALITY.timeout,
      `Unit ${unit} gave no answer within ${timeoutMs} ms (${what}). A wrong unit id looks like this; so does a device without power, or one that needs a longer time-out.`,
      false,
    );
  if (/ETIMEDOUT|EHOSTUNREACH|ENETUNREACH|EHOSTDOWN/.test(`${reason} ${message}`))
    return fault(
      QUALITY.timeout,
      `${host} port ${port} cannot be reached. Check the cable, the power of the device, and that its address is right.`,
      true,
    );
  if (/PortNotOpen|ECONNRESET|EPIPE|closed/i.test(`${reason} ${message}`))
    return fault(
      QUALITY.disconnected,
      `${host} closed the connection. Some devices allow only one at a time; look for another program that is connected.`,
      true,
    );
  return fault(
    QUALITY.badAnswer,
    `Unit ${unit}: the answer could not be understood (${message}; ${what}).`,
    false,
  );
}
