import type { PlacePhases } from '@loka/contract/profile';
import { emptySpans, phasesOf, type LineCircuit, type PowerSpans } from '@loka/core/profile';
import { textOf } from '../parts.js';
import { phasesSays } from './phasesSays.js';

const START = Date.UTC(2026, 10, 2);
const NAMES = new Map([
  [11, 'Lighting'],
  [12, 'Prover'],
]);
const always = (watts: number): PowerSpans => {
  const spans = emptySpans(START, 60_000, 60);
  spans.mean.fill(watts);
  return spans;
};
const said = (lines: [number, number, number], circuits: LineCircuit[]): string[] => {
  const place: PlacePhases = {
    nodeId: 1,
    from: START,
    to: START + 3_600_000,
    phases: phasesOf([always(lines[0]), always(lines[1]), always(lines[2])], circuits, 230),
    circuits: [11, 12],
  };
  return phasesSays(place, (id) => NAMES.get(id) ?? '', 'UTC').map(textOf);
};

it('lines, neutral, and the move that evens them out', () => {
  const words = said(
    [2300, 1150, 0],
    [
      { line: 0, power: always(1150) },
      { line: 1, power: always(200) },
    ],
  );
  expect(words[0]).toBe(
    'In the mean L1 takes 2.30 kW, L2 takes 1.15 kW and L3 takes 0.0 W. (L1 67 %, L2 33 %, L3 0 %)',
  );
  expect(words[1]).toMatch(
    /^At most L1 2\.30 kW, L2 1\.15 kW and L3 0\.0 W\. \(L1 on Mon 2 Nov 00:00, below 2\.30 kW/,
  );
  // √(10² + 5² − 10 · 5) A.
  expect(words[2]).toMatch(
    /^The neutral carries 8\.660 A in the mean, and less than 8\.660 A for 95 % of the time\./,
  );
  expect(words[3]).toMatch(
    /^Put “Lighting” from L1 on L3: the neutral would carry 0\.000 A in the mean, the busiest line at most 1\.15 kW\. \(instead of 8\.7 A and 2\.30 kW; the best of 4 single moves/,
  );
});

it('what is even is said to be, and what gives to give', () => {
  const words = said(
    [1000, 1000, 1000],
    [
      { line: 0, power: always(100) },
      { line: 1, power: always(100) },
    ],
  );
  expect(words.at(-1)).toMatch(
    /^No single circuit would be better on another line\. \(2 single-phase circuits were tried/,
  );
  expect(said([-500, 200, 200], [])[0]).toContain('L1 gives 500 W');
});

it('of nothing nothing is said', () => expect(said([NaN, 1, 1], [])).toEqual([]));
