import { jest } from '@jest/globals';
import { newMessage, type MessageDefinition } from '@loka/core/messages';
import { QUALITY } from '@loka/core/series';
import { AcquisitionHealth } from '../../devices/acquisitionHealth.js';
import { knownPoint } from '../../../test/support/knownPoint.js';
import { ChangeFeed } from '../../live/changeFeed.js';
import type { RawReading } from '../runner.js';
import { MessageDesk } from './messageDesk.js';

const AVAILABILITY = { topic: '{device}/online', online: 'yes', offline: 'no' };
const definition = (key: string, more: Partial<MessageDefinition>): MessageDefinition =>
  newMessage({ key, pointer: `/${key}`, unit: 'W', quantity: 'active-power', ...more });
const point = (id: number, deviceId: number, own: MessageDefinition) =>
  knownPoint(id, deviceId, own, { topic: `plug-${deviceId}`, availability: AVAILABILITY });
const contact = definition('contact', {
  topic: '{device}/contact',
  pointer: '',
  quantity: 'contact-state',
  unit: '',
  on: 'closed',
  off: 'open',
  intervalMs: 60_000,
});

const POINTS = [
  point(1, 1, definition('power', {})),
  point(2, 1, contact),
  point(3, 2, definition('power', {})),
  point(4, 1, { ...definition('relay', { topic: '{device}/relay', access: 'write' }) }),
];

let health: AcquisitionHealth;
let readings: RawReading[];
let desk: MessageDesk;
beforeEach(() => {
  jest.useFakeTimers({ now: Date.UTC(2026, 10, 25, 12) });
  health = new AcquisitionHealth(new ChangeFeed());
  readings = [];
  desk = new MessageDesk(1, POINTS, health, (list) => readings.push(...list));
  desk.start();
});
afterEach(() => {
  desk.stop();
  // The clock that was put over the one of the test goes first: other files of tests run in this process as well.
  jest.restoreAllMocks();
  jest.useRealTimers();
});
const say = (topic: string, payload: string, more = {}) => desk.take(topic, payload, Date.now(), more);
const last = (pointId: number) => readings.filter((r) => r.pointId === pointId).at(-1);
const passes = (seconds: number) => jest.advanceTimersByTime(seconds * 1000);

it('listens to what is read and to who is there, and not to what is only sent', () => {
  expect(desk.topics.sort()).toEqual(
    ['plug-1/contact', 'plug-1/online', 'plug-1/report', 'plug-2/online', 'plug-2/report'].sort(),
  );
});
it('a message is for the device on whose topic it comes; one that nobody waits for is told to be so', () => {
  expect(say('plug-1/report', '{"power":1150}')).toBe(true);
  expect(say('plug-9/report', '{"power":7}')).toBe(false);
  expect(readings).toEqual([{ pointId: 1, t: Date.now(), raw: 1150, q: QUALITY.good, ownTime: false }]);
});
it('silence is noticed after two and a half intervals, once, on the topic that is silent alone', () => {
  say('plug-1/report', '{"power":5}');
  say('plug-1/contact', 'closed');
  passes(24);
  expect(last(1)?.q).toBe(QUALITY.good);
  passes(2);
  expect(last(1)).toMatchObject({ raw: null, q: QUALITY.silent });
  expect(last(2)).toMatchObject({ raw: 1, q: QUALITY.good });
  expect(health.ofDevice(1)).toMatchObject({
    state: 'partly',
    fault: expect.stringContaining('“plug-1/report”'),
  });
  const told = readings.length;
  passes(60);
  expect(readings.slice(told).filter((r) => r.pointId === 1)).toEqual([]);
  say('plug-1/report', '{"power":6}');
  say('plug-1/contact', 'open');
  expect(last(1)).toMatchObject({ raw: 6, q: QUALITY.good });
  expect(health.ofDevice(1).state).toBe('answering');
});
it('while the process stands still nobody is silent', () => {
  say('plug-1/report', '{"power":5}');
  passes(1);
  const now = performance.now.bind(performance);
  jest.spyOn(performance, 'now').mockImplementation(() => now() + 60_000);
  passes(20);
  expect(last(1)?.q).toBe(QUALITY.good);
  passes(10);
  expect(last(1)?.q).toBe(QUALITY.silent);
});
it('one that has never come is silent as well, and says “yet”', () => {
  passes(26);
  expect(last(3)?.q).toBe(QUALITY.silent);
  expect(health.ofDevice(2)).toMatchObject({
    state: 'failing',
    fault: expect.stringMatching(/has arrived on .* yet/),
  });
});
it('who says that it is gone is gone at once with all its values, and silent no more; a word of it brings it back', () => {
  say('plug-1/report', '{"power":5}');
  say('plug-1/online', 'no', { retained: true });
  for (const id of [1, 2]) expect(last(id)).toMatchObject({ raw: null, q: QUALITY.offline });
  expect(last(3)).toBeUndefined();
  passes(200);
  expect(last(1)?.q).toBe(QUALITY.offline);
  say('plug-1/online', 'yes');
  passes(20);
  expect(last(1)?.q).toBe(QUALITY.offline); // it is there again and has not reported yet
  say('plug-1/report', '{"power":8}');
  expect(last(1)).toMatchObject({ raw: 8, q: QUALITY.good });
});
it('an availability that is neither word is counted and changes nothing', () => {
  say('plug-1/report', '{"power":5}');
  say('plug-1/online', 'perhaps');
  expect(health.ofDevice(1)).toMatchObject({
    state: 'answering',
    faults: [{ kind: 'not understood', last: expect.stringContaining('perhaps') }],
  });
});
it('what was kept by the broker tells a state, and is no reading unless it has its own time', () => {
  say('plug-1/report', '{"power":5}', { retained: true });
  expect(last(1)).toBeUndefined();
  say('plug-1/contact', 'closed', { retained: true });
  expect(last(2)).toMatchObject({ raw: 1 });
});
it('what is not understood is a bad reading of its point alone', () => {
  say('plug-1/report', '{"power":"much"}');
  expect(last(1)).toMatchObject({ raw: null, q: QUALITY.badAnswer });
  say('plug-1/contact', 'half open');
  expect(last(2)).toMatchObject({ raw: null, q: QUALITY.badAnswer });
  expect(health.ofDevice(1).faults[0]).toMatchObject({ kind: 'not understood', count: 2 });
});
it('a value that cannot be is marked, and kept', () => {
  say('plug-1/report', '{"power":9e9}');
  expect(last(1)).toMatchObject({ raw: 9e9, q: QUALITY.implausible });
});
it('while nothing can come, all is bad for that reason; silence counts anew afterwards', () => {
  say('plug-1/report', '{"power":5}');
  desk.lost(QUALITY.disconnected);
  for (const id of [1, 2, 3]) expect(last(id)).toMatchObject({ raw: null, q: QUALITY.disconnected });
  passes(20);
  desk.resume();
  passes(20);
  expect(last(1)?.q).toBe(QUALITY.disconnected);
  passes(6);
  expect(last(1)?.q).toBe(QUALITY.silent);
});

describe('when other devices come or go', () => {
  const goesOnWith = (points: typeof POINTS, changed: number[]) => {
    desk.stop();
    desk = new MessageDesk(1, points, health, (list) => readings.push(...list), {
      desk,
      changed: new Set(changed),
    });
    desk.start();
  };

  it('who is silent or offline stays so, without being told again; only the new topics are new', () => {
    say('plug-1/online', 'no');
    passes(26);
    expect(last(3)?.q).toBe(QUALITY.silent);
    readings = [];
    goesOnWith([...POINTS, point(5, 3, definition('power', {}))], [3]);
    expect([...desk.newTopics].sort()).toEqual(['plug-3/online', 'plug-3/report']);
    expect(desk.isOffline(1)).toBe(true);
    passes(20);
    expect(readings).toEqual([]);
    passes(6);
    expect(readings).toMatchObject([{ pointId: 5, q: QUALITY.silent }]);
  });
  it('the time until silence of the others goes on', () => {
    say('plug-2/report', '{"power":5}');
    passes(24);
    goesOnWith(
      POINTS.filter(({ deviceId }) => deviceId !== 1),
      [1],
    );
    passes(2);
    expect(last(3)).toMatchObject({ raw: null, q: QUALITY.silent });
    expect(say('plug-1/report', '{"power":7}')).toBe(false);
  });
  it('one that was changed begins anew', () => {
    say('plug-1/online', 'no');
    say('plug-2/report', '{"power":5}');
    passes(24);
    goesOnWith(POINTS, [1, 2]);
    expect(desk.isOffline(1)).toBe(false);
    expect(desk.newTopics).toContain('plug-1/online');
    passes(20);
    expect(last(3)).toMatchObject({ raw: 5, q: QUALITY.good });
    passes(6);
    expect(last(3)).toMatchObject({ raw: null, q: QUALITY.silent });
  });
});
