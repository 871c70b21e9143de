import { findSteps } from './steps.js';
import { seededTrace } from './seeded/traces.js';

describe('steps', () => {
  const trace = (...v: number[]) => ({ t: v.map((_, i) => i * 1000), v });

  it('gives instant, levels and height of a lamp switched on', () => {
    const [step, ...more] = findSteps(trace(2, 2.1, 1.9, 2, 2.05, 62, 61.9, 62.1, 62, 62));
    expect(more).toEqual([]);
    expect(step).toMatchObject({ t: 5000, since: 4000 });
    // The medians of both sides.
    expect(step?.before).toBeCloseTo(2, 6);
    expect(step?.height).toBeCloseTo(60, 6);
    expect(step?.brackets).toEqual({ before: [0, 4000], after: [5000, 9000] });
  });

  it('takes an inrush as part of its step, and a spike as none', () => {
    const inrush = findSteps(trace(5, 5, 5.1, 5, 4.9, 900, 640, 300, 301, 300, 299, 300));
    expect(inrush.map((s) => Math.round(s.height))).toEqual([295]);
    expect(findSteps(trace(5, 5, 5.1, 5, 4.9, 900, 5, 5, 5.1, 4.9, 5, 5))).toEqual([]);
  });

  it('does not take a ramp for a step', () => {
    expect(findSteps(trace(...Array.from({ length: 40 }, (_, i) => Math.min(300, i * 10))))).toEqual([]);
  });

  it('finds nothing in what never moves, in two readings, or in none', () => {
    expect(findSteps(trace(...new Array<number>(50).fill(7)))).toEqual([]);
    expect(findSteps(trace(1, 2))).toEqual([]);
    expect(findSteps(trace())).toEqual([]);
  });

  it('finds a step of what reads exactly the same before and after', () => {
    expect(findSteps(trace(0, 0, 0, 0, 8, 8, 8, 8)).map((s) => s.height)).toEqual([8]);
  });

  it('finds the true steps of 500 seeded traces, and hardly any that are none', () => {
    let [wanted, found, wrong, worst] = [0, 0, 0, 0];
    for (let seed = 1; seed <= 500; seed++) {
      const { trace: made, steps, noise } = seededTrace(seed);
      const got = findSteps(made);
      const used = new Set<number>();
      for (const truth of steps) {
        wanted++;
        const match = got.findIndex((s, i) => !used.has(i) && s.since <= truth.t && truth.t <= s.t + 2000);
        if (match < 0) continue;
        used.add(match);
        const off = Math.abs((got[match] as { height: number }).height - truth.height);
        worst = Math.max(worst, off / noise);
        if (off <= Math.max(4 * noise, 0.05 * Math.abs(truth.height))) found++;
      }
      wrong += got.length - used.size;
    }
    expect(wanted).toBeGreaterThan(1200);
    expect({ found: found / wanted >= 0.98, wrong: wrong / wanted <= 0.01 }).toEqual({
      found: true,
      wrong: true,
    });
  });
});
