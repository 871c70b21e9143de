import { jest } from '@jest/globals';
import type { Request, Response } from 'express';
import { localOnly } from './localOnly.js';

/** Whether a request gets through, and what it is told where not. */
function ask(more: {
  from?: string;
  method?: string;
  path?: string;
  headers?: Record<string, string>;
}): string | true {
  const { from = '127.0.0.1', method = 'GET', path = '/api/links', headers = {} } = more;
  const next = jest.fn();
  let told = '';
  const response = { status: () => response, type: () => response, send: (text: string) => (told = text) };
  localOnly(
    {
      method,
      path,
      headers: { host: 'localhost:8420', ...headers },
      socket: { remoteAddress: from },
      is: () => false,
    } as unknown as Request,
    response as unknown as Response,
    next,
  );
  return next.mock.calls.length > 0 ? true : (JSON.parse(told) as { detail: string }).detail;
}

it.each(['127.0.0.1', '127.3.2.1', '::1', '::ffff:127.0.0.1'])('lets this machine in, from %s', (from) =>
  expect(ask({ from })).toBe(true),
);
it.each(['192.168.1.7', '10.0.0.1', '::ffff:192.168.1.7', 'fe80::1', '', '1127.0.0.1'])(
  'lets nobody in from %s, whatever the Host header says',
  (from) => {
    expect(ask({ from })).toContain('another machine');
    expect(ask({ from, headers: { host: '127.0.0.1:8420', 'x-forwarded-for': '127.0.0.1' } })).toContain(
      'another machine',
    );
  },
);
it('the push door is open to other machines, for posts that come from no page', () => {
  const push = { from: '192.168.1.7', method: 'POST', path: '/api/push/3/meter' };
  expect(ask({ ...push, headers: { host: 'loka.local:8420' } })).toBe(true);
  expect(ask({ ...push, method: 'GET' })).not.toBe(true);
  expect(ask({ ...push, headers: { origin: 'http://elsewhere' } })).not.toBe(true);
  expect(ask({ ...push, path: '/api/links' })).not.toBe(true);
});
it('a foreign host, a foreign page and what is no JSON are refused', () => {
  expect(ask({ headers: { host: 'evil.example' } })).toContain('not this machine');
  expect(ask({ headers: { origin: 'http://evil.example' } })).toContain('not accepted');
  expect(ask({ method: 'POST', headers: { 'content-length': '4' } })).toContain('Only JSON');
});
