import { Building, totalWatts } from './building.js';
import { drift, noise } from './noise.js';

/** A Tuesday in winter, local midnight (Lisbon is on UTC then). */
const TUESDAY = Date.parse('2026-01-13T00:00:00Z');
const HOUR = 3_600_000;

describe('the electrical model', () => {
  it('is the same for the same seed, and another for another', () => {
    const run = (seed: number) => {
      const building = new Building(seed, TUESDAY);
      building.advance(TUESDAY + 3 * HOUR, 1000);
      return [building.supply.L1.volts, totalWatts(building.supply), building.frequency];
    };
    expect(run(7)).toEqual(run(7));
    expect(run(7)).not.toEqual(run(8));
  });

  it('its recorded past and the building that runs are one: stopped at every minute or not, it has counted the same', () => {
    const since = TUESDAY + 12_345; // nobody starts it on a full minute
    const now = TUESDAY + 2 * 24 * HOUR + 17_321;
    const recorded = new Building(7, since);
    for (let t = Math.ceil(since / 60_000) * 60_000; t < now; t += 60_000) recorded.advance(t, 30_000);
    recorded.advance(now, 30_000);
    const running = new Building(7, since);
    running.advance(now, 30_000);
    expect([...running.energy]).toEqual([...recorded.energy]);
    expect([...running.fedBack]).toEqual([...recorded.fedBack]);
    expect(running.energy.get('supply')).toBeGreaterThan(10_000);
  });

  it('drops voltage with the load: about 0.11 Ω times the active current of the line', () => {
    const building = new Building(7, TUESDAY);
    building.modes.set('hot-water', 'off');
    building.advance(TUESDAY + 20 * HOUR, 10_000);
    const before = building.supply.L1.volts;
    building.modes.set('hot-water', 'on');
    building.advance(building.t + 2000, 100);
    const drop = before - building.supply.L1.volts;
    expect(drop).toBeCloseTo(0.11 * 13, 0);
    expect(building.flows.get('hot-water')?.L1.watts).toBeCloseTo(
      3000 * (building.supply.L1.volts / 230) ** 2,
      -1,
    );
  });

  it('lets the oven draw on all three lines, in cycles, at night and not by day', () => {
    const building = new Building(7, TUESDAY);
    const powers: number[] = [];
    for (let t = TUESDAY + 4 * HOUR; t < TUESDAY + 7 * HOUR; t += 30_000) {
      building.advance(t, 5000);
      powers.push(totalWatts(building.flows.get('deck-oven')!));
    }
    expect(Math.max(...powers)).toBeGreaterThan(12_000);
    const switched = powers.filter((p, i) => i > 0 && p > 10_000 !== powers[i - 1]! > 10_000).length;
    expect(switched).toBeGreaterThan(4);
    building.advance(TUESDAY + 14 * HOUR, 30_000);
    expect(totalWatts(building.flows.get('deck-oven')!)).toBeLessThan(50);
  });

  it('rests on Mondays', () => {
    const building = new Building(7, TUESDAY - 24 * HOUR);
    building.advance(TUESDAY - 20 * HOUR, 30_000);
    expect(totalWatts(building.flows.get('deck-oven')!)).toBeLessThan(50);
  });

  it('gives the mixer its surge: more than twice its running power in the first second', () => {
    const building = new Building(7, TUESDAY);
    building.advance(TUESDAY + 2.5 * HOUR - 1000, 30_000);
    const powers: number[] = [];
    for (let i = 0; i < 60; i++) {
      building.advance(building.t + 100, 100);
      powers.push(totalWatts(building.flows.get('mixer')!));
    }
    const settled = powers.at(-1)!;
    expect(Math.max(...powers)).toBeGreaterThan(2 * settled);
    expect(settled).toBeGreaterThan(1000);
  });

  it('defrosts the cold room with a heater of power factor 1, and cycles its compressor otherwise', () => {
    const building = new Building(7, TUESDAY);
    building.advance(TUESDAY + 6 * HOUR + 5 * 60_000, 5000);
    const { watts, vars } = building.flows.get('cold-room')!.L2;
    expect(watts).toBeGreaterThan(1100);
    expect(watts / Math.hypot(watts, vars)).toBeGreaterThan(0.99);
  });

  it('takes the power from what its relay has opened', () => {
    const building = new Building(7, TUESDAY);
    building.modes.set('hot-water', 'on');
    building.contacts.set('hot-water', false);
    building.advance(TUESDAY + 1000, 100);
    expect(totalWatts(building.flows.get('hot-water')!)).toBe(0);
  });

  it('draws a share of its power when it is forced to', () => {
    const building = new Building(7, TUESDAY);
    building.modes.set('hot-water', 'on');
    building.advance(TUESDAY + 1000, 100);
    const whole = totalWatts(building.flows.get('hot-water')!);
    building.shares.set('hot-water', 0.25);
    building.advance(TUESDAY + 2000, 100);
    // Not quite a quarter: the voltage is higher then.
    expect(totalWatts(building.flows.get('hot-water')!) / whole).toBeCloseTo(0.25, 1);
  });

  it('counts energy as the sum of power over time', () => {
    const building = new Building(7, TUESDAY);
    building.modes.set('hot-water', 'on');
    building.advance(TUESDAY + HOUR, 1000);
    const watts = totalWatts(building.flows.get('hot-water')!);
    expect(building.energy.get('hot-water')! / watts).toBeCloseTo(1, 1);
  });
});

describe('noise', () => {
  it('depends on the slot, not on how often it is asked; within −1…1, mean near zero', () => {
    const values = Array.from({ length: 4000 }, (_, i) => noise(7, 'x', i));
    expect(noise(7, 'x', 12)).toBe(values[12]);
    expect(Math.max(...values.map(Math.abs))).toBeLessThanOrEqual(1);
    expect(Math.abs(values.reduce((a, b) => a + b, 0) / values.length)).toBeLessThan(0.05);
  });
  it('drifts without jumps', () => {
    let largest = 0;
    for (let t = 0; t < 100_000; t += 100)
      largest = Math.max(largest, Math.abs(drift(7, 'y', t + 100, 10_000) - drift(7, 'y', t, 10_000)));
    expect(largest).toBeLessThan(0.05);
  });
});

/** A Saturday in June, when the sun is high. */
const JUNE = Date.parse('2026-06-20T00:00:00Z') - HOUR;

describe('sun and battery', () => {
  it('there is no power from the roof at night, and several kilowatts on a summer noon', () => {
    const building = new Building(7, JUNE);
    building.advance(JUNE + 2 * HOUR, 60_000);
    expect(totalWatts(building.flows.get('pv')!)).toBeCloseTo(0, 6);
    const noon: number[] = [];
    for (let t = JUNE + 11 * HOUR; t < JUNE + 14 * HOUR; t += 300_000) {
      building.advance(t, 60_000);
      noon.push(-totalWatts(building.flows.get('pv')!));
    }
    expect(Math.max(...noon)).toBeGreaterThan(5000);
    expect(Math.max(...noon)).toBeLessThan(12_000);
  });
  it('on every line the supply is the sum of all loads, less what the roof and the battery give', () => {
    const building = new Building(7, JUNE);
    for (const hour of [3, 7, 10, 13, 18, 21]) {
      building.advance(JUNE + hour * HOUR, 30_000);
      for (const line of ['L1', 'L2', 'L3'] as const) {
        const sum = [...building.flows.values()].reduce((total, flow) => total + flow[line].watts, 0);
        expect(building.supply[line].watts).toBeCloseTo(sum, 6);
      }
    }
  });
  it('the battery stays between empty and full, takes surplus, gives what is missing, and loses some on the way', () => {
    const building = new Building(7, JUNE);
    let taken = 0;
    let given = 0;
    const start = building.battery.charge;
    for (let t = JUNE; t < JUNE + 48 * HOUR; t += 60_000) {
      building.advance(t, 60_000);
      const { charge, watts } = building.battery;
      expect(charge).toBeGreaterThan(9);
      expect(charge).toBeLessThanOrEqual(100.001);
      expect(Math.abs(watts)).toBeLessThanOrEqual(5000);
      if (watts > 0) given += watts / 60;
      else taken -= watts / 60;
    }
    expect(taken).toBeGreaterThan(2000);
    const stored = ((building.battery.charge - start) / 100) * 15_000;
    expect(given).toBeLessThan(taken - stored);
  });
  it('energy that goes back into the grid is counted apart', () => {
    const building = new Building(7, JUNE + 9 * HOUR);
    for (const load of building.loads) building.contacts.set(load.name, false);
    building.advance(JUNE + 17 * HOUR, 30_000);
    expect(building.fedBack.get('supply')).toBeGreaterThan(1000);
    expect(building.fedBack.get('pv')).toBeGreaterThan(building.fedBack.get('supply')!);
  });
});

it('all the loads of the site are there, and each draws something within a day', () => {
  const building = new Building(7, TUESDAY);
  const most = new Map<string, number>();
  for (let t = TUESDAY + 120_000; t < TUESDAY + 24 * HOUR; t += 120_000) {
    building.advance(t, 30_000);
    for (const { name } of building.loads)
      most.set(name, Math.max(most.get(name) ?? 0, totalWatts(building.flows.get(name)!)));
  }
  expect(building.loads).toHaveLength(14);
  for (const [name, watts] of most) expect(`${name} ${watts > 50}`).toBe(`${name} true`);
});
