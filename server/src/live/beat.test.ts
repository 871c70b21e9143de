import { Beat } from './beat.js';

/** What a beat of 100 ms says at these instants, ms after its start. */
function said(...instants: number[]): number[] {
  const start = performance.now();
  const beat = new Beat(100);
  return instants.map((at) => Math.round(beat.stoodStill(start + at) / 100) * 100);
}

it('a look in its time, or as late as a busy process is, stood not still', () => {
  expect(said(100, 200, 1200, 1300)).toEqual([0, 0, 0, 0]);
});
it('a pause is told once, without the time until the look was due', () => {
  expect(said(100, 45_200, 45_300, 45_400)).toEqual([0, 45_000, 0, 0]);
});
it('each of two pauses that lie apart is told', () => {
  const between = Array.from({ length: 21 }, (_, i) => 5200 + i * 100);
  expect(said(5100, ...between, 10_300)).toEqual([5000, ...between.map(() => 0), 3000]);
});
it('a look more in between changes nothing', () => {
  expect(said(100, 130, 45_230, 45_231, 45_331)).toEqual([0, 0, 45_000, 0, 0]);
});
it('a process that comes to itself only now and then is overloaded: only the first counts', () => {
  expect(said(2100, 2200, 4300, 4400, 4500, 6600)).toEqual([2000, 0, 0, 0, 0, 0]);
});
it('a process that is late at each look is overloaded: only the first counts', () => {
  expect(said(2100, 4200, 6300, 8400)).toEqual([2000, 0, 0, 0]);
});
