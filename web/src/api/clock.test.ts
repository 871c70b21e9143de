import { noteBeat, serverNow } from './clock.js';

const HERE = Date.UTC(2026, 10, 25, 12);
/** Beats that arrive now and were sent when the server's clock, so much ahead, said so. */
const beats = (...ahead: number[]) => ahead.forEach((ms) => noteBeat(HERE + ms, HERE));

it('a slight difference is the way from there to here, and is let be', () => {
  beats(-200, -120, -400);
  expect(serverNow(HERE)).toBe(HERE);
});
it('a clock that is wrong here is put right by the server’s', () => {
  beats(90_000, 89_950, 89_990);
  expect(serverNow(HERE)).toBe(HERE + 90_000);
  beats(-3_600_000, -3_600_000, -3_600_100);
  expect(serverNow(HERE)).toBe(HERE - 3_600_000);
});
it('one beat that was held up on its way does not turn it back', () => {
  beats(0, -30_000, -20);
  expect(serverNow(HERE)).toBe(HERE);
});
it('what was so once is forgotten after some beats', () => {
  beats(90_000, 90_000, 90_000);
  beats(0, 0, 0);
  expect(serverNow(HERE)).toBe(HERE);
});
