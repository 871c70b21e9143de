import { jest } from '@jest/globals';
import type { ArgumentsHost } from '@nestjs/common';
import { ProblemFilter } from './problem.filter.js';
import { Problem } from './errors.js';

function answerTo(error: unknown, headersSent: boolean) {
  const response = {
    headersSent,
    code: 0,
    text: '',
    status: (code: number) => ((response.code = code), response),
    type: () => response,
    send: (text: string) => (response.text = text),
    end: jest.fn(),
    destroy: jest.fn(),
  };
  const filter = new ProblemFilter();
  // The log is meant for the operator, not for the test's output.
  (filter as unknown as { log: object }).log = { error: () => undefined };
  filter.catch(error, { switchToHttp: () => ({ getResponse: () => response }) } as unknown as ArgumentsHost);
  return response;
}
const away = Object.assign(new Error('connect'), { code: 'ECONNREFUSED' });

it('a download that had begun breaks off, and does not look whole', () => {
  const response = answerTo(away, true);
  expect([response.destroy.mock.calls.length, response.end.mock.calls.length]).toEqual([1, 0]);
});
it('a database that is away is not a fault of whoever asks, nor of the server for good', () =>
  expect(answerTo(away, false).code).toBe(503));
it('what was foreseen has its own status, and what was not says nothing of the inside', () => {
  expect(answerTo(new Problem('locked-out', 'Cut off.'), false)).toMatchObject({
    code: 409,
    text: expect.stringContaining('Cut off.'),
  });
  const { code, text } = answerTo(new Error('password=1'), false);
  expect([code, text.includes('password')]).toEqual([500, false]);
});
