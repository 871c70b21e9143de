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
  expect(said(5100, 5200, 8300)).toEqual([5000, 0, 3000]);
});
it('a process that is late at each look is overloaded: only the first counts', () => {
  expect(said(2100, 4200, 6300, 8400)).toEqual([2000, 0, 0, 0]);
});
