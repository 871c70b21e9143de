import { ChangeFeed } from '../live/changeFeed.js';
import { AcquisitionHealth } from './acquisitionHealth.js';

const fault = (message: string) => ({ kind: 'exception' as const, message, linkDown: false });
let changes: number;
let health: AcquisitionHealth;
beforeEach(() => {
  const feed = new ChangeFeed();
  changes = 0;
  feed.changed.subscribe(() => changes++);
  health = new AcquisitionHealth(feed);
});

it('a device of which one request fails answers in part, and stays so without telling it again and again', () => {
  health.answered(1, 5, 3, 'a');
  health.failed(1, 5, fault('b is not there'), 'b');
  expect(health.ofDevice(5)).toMatchObject({ state: 'partly', fault: 'b is not there' });
  expect(health.ofLink(1, true).state).toBe('answering');
  const told = changes;
  for (let i = 0; i < 10; i++) {
    health.answered(1, 5, 3, 'a');
    health.failed(1, 5, fault('b is not there'), 'b');
  }
  expect(changes).toBe(told);
  expect(health.ofDevice(5).faults).toMatchObject([{ kind: 'exception', count: 11 }]);
  health.answered(1, 5, 3, 'b');
  expect(health.ofDevice(5)).toMatchObject({ state: 'answering', fault: null });
});
it('one of which every request fails, fails; a request that is not made any more does not count', () => {
  health.answered(1, 5, 3, 'a–b');
  health.forgetPart(5, 'a–b');
  health.failed(1, 5, fault('a is not there'), 'a');
  expect(health.ofDevice(5).state).toBe('failing');
  health.failed(1, 5, fault('b is not there'), 'b');
  expect(health.ofDevice(5)).toMatchObject({ state: 'failing', fault: 'a is not there' });
});
it('a device that gives no answer at all fails altogether, and one answer brings it back', () => {
  health.answered(1, 5, 3, 'a');
  health.answered(1, 5, 3, 'b');
  health.failed(1, 5, { kind: 'time-out', message: 'silence', linkDown: false });
  expect(health.ofDevice(5)).toMatchObject({ state: 'failing', fault: 'silence' });
  health.answered(1, 5, 3, 'a');
  expect(health.ofDevice(5).state).toBe('answering');
});
it('response times: the median, and what 95 % are below', () => {
  for (let ms = 1; ms <= 100; ms++) health.answered(1, 5, ms, 'a');
  expect(health.ofDevice(5)).toMatchObject({ responseMs: 51, response95Ms: 96 });
});
it('a link that is down says so; one that is switched off has nothing to say', () => {
  health.failed(1, null, { kind: 'refused', message: 'nothing listens', linkDown: true });
  expect(health.ofLink(1, true)).toMatchObject({ state: 'failing', fault: 'nothing listens' });
  expect(health.ofLink(1, false)).toMatchObject({ state: 'off', fault: null });
});
