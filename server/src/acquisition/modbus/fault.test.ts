import { QUALITY, qualityInWords } from '@loka/core/series';
import { HostError } from '../../security/allowedNetworks.js';
import { explainFault } from './fault.js';

const where = { host: '192.0.2.7', port: 502, unit: 7, timeoutMs: 1000, what: 'input 772–773' };
const explain = (error: object) => explainFault(error, where);

it.each([
  [{ code: 'ECONNREFUSED', message: 'connect ECONNREFUSED' }, QUALITY.refused, true, 'refuses port 502'],
  [
    { name: 'TransactionTimedOutError', message: 'Timed out' },
    QUALITY.timeout,
    false,
    'no answer within 1000 ms (input 772–773). A wrong unit id looks like this',
  ],
  [
    { code: 'OUT_OF_STEP', message: 'late' },
    QUALITY.badAnswer,
    false,
    'answered more often than it was asked (input 772–773)',
  ],
  [{ code: 'EHOSTUNREACH', message: 'no route' }, QUALITY.timeout, true, 'cannot be reached'],
  [{ code: 'ECONNRESET', message: 'reset' }, QUALITY.disconnected, true, 'closed the connection'],
  [
    { name: 'PortNotOpenError', message: 'Port Not Open' },
    QUALITY.disconnected,
    true,
    'closed the connection',
  ],
  [
    { message: 'Data length error, expected 9 got 5', name: 'Error' },
    QUALITY.badAnswer,
    false,
    'could not be understood',
  ],
  [
    new HostError('host-unknown', 'No machine is called “x”.'),
    QUALITY.hostUnknown,
    true,
    'No machine is called',
  ],
  [new HostError('host-forbidden', 'not allowed'), QUALITY.forbidden, true, 'not allowed'],
] as const)('%j', (error, quality, linkDown, words) => {
  expect(explain(error)).toMatchObject({
    quality,
    linkDown,
    exception: null,
    message: expect.stringContaining(words),
  });
});

it('what a device does not let be written in this way says where another way is chosen', () => {
  expect(
    explainFault({ modbusCode: 1 }, { ...where, what: 'writing holding 5', doing: 'writing' }).message,
  ).toContain('“Always write with function 15”');
});

// Exception codes: Modbus Application Protocol V1.1b3, section 7 (recalled).
it.each([
  [1, 'illegal function'],
  [2, 'illegal data address'],
  [6, 'server device busy'],
  [11, 'gateway target device failed to respond'],
  [99, 'which the protocol does not define'],
])('exception %i is named and does not condemn the link', (code, words) => {
  const fault = explain({ modbusCode: code, message: 'exception' });
  expect(fault).toMatchObject({
    exception: code,
    linkDown: false,
    message: expect.stringContaining(`Unit 7 answered exception ${code}, ${words}`),
  });
  if (code < 16) expect(qualityInWords(fault.quality)).toBe(`bad: exception ${code}`);
});
