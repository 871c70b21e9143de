import { addressOf, members } from './batch.js';
import { placeOf, usualPort } from '../shared/linkKinds.js';
import { LinkInput, type Link } from '@loka/contract/links';

const base = { count: 3, first: 4, name: 'Meter #', topic: '', unit: 1, by: 'unit' } as const;

it('names and unit ids count up; a name without # gets the number behind it', () => {
  expect(members(base).map((m) => [m.name, m.unit])).toEqual([
    ['Meter 4', 4],
    ['Meter 5', 5],
    ['Meter 6', 6],
  ]);
  expect(members({ ...base, name: 'Meter' })[0]?.name).toBe('Meter 4');
});
it('base topics count up', () => {
  expect(members({ ...base, by: 'topic', topic: 'site/plug-#' }).map((m) => m.topic)).toEqual([
    'site/plug-4',
    'site/plug-5',
    'site/plug-6',
  ]);
  expect(members({ ...base, by: 'topic', topic: 'site/plug' })[0]?.topic).toBe('site/plug4');
});
it('addresses count up, with the unit id of the one they are like', () => {
  const at = (topic: string) =>
    members({ ...base, by: 'address', unit: 7, topic }).map((m) => [
      m.unit,
      m.address?.host,
      m.address?.port,
    ]);
  expect(at('192.168.1.#')).toEqual([
    [7, '192.168.1.4', 502],
    [7, '192.168.1.5', 502],
    [7, '192.168.1.6', 502],
  ]);
  expect(at('meter-#.local:1502')[2]).toEqual([7, 'meter-6.local', 1502]);
  expect(at('127.0.0.1:150#')[0]).toEqual([7, '127.0.0.1', 1504]);
  // All the same, none at all, or one past the last: nothing is proposed.
  for (const wrong of ['192.168.1.40', '', '192.168.#', '192.168.1.25#']) expect(at(wrong)).toEqual([]);
});
it('an address is a host, with a port when it is not the usual one', () => {
  expect(addressOf(' 10.0.0.9 ')).toEqual({ host: '10.0.0.9', port: 502 });
  for (const wrong of ['10.0.0.256', '10.0.0', 'meter:0', 'meter:65536', '-meter', 'a b', 'meter:'])
    expect(addressOf(wrong)).toBeNull();
});
it('none while the numbers are not right', () => {
  for (const wrong of [
    { count: 0 },
    { count: 101 },
    { count: NaN },
    { first: -1 },
    { first: 254 },
    { count: 1.5 },
  ])
    expect(members({ ...base, ...wrong })).toEqual([]);
});
it('a link says where it leads', () => {
  const link = (more: Partial<Link>) => ({ ...new LinkInput(), id: 7, name: '', ...more }) as Link;
  expect(placeOf(link({ kind: 'modbus-tcp', host: '10.0.0.1', port: 502 }))).toBe('10.0.0.1:502');
  expect(placeOf(link({ kind: 'modbus-serial', path: '/dev/ttyUSB0', baudRate: 19200 }))).toBe(
    '/dev/ttyUSB0 19200',
  );
  expect(placeOf(link({ kind: 'http-push' }))).toBe('/api/push/7');
  expect([usualPort('mqtt', false), usualPort('mqtt', true), usualPort('modbus-rtu-tcp', false)]).toEqual([
    1883, 8883, 502,
  ]);
});
