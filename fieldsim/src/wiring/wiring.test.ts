import { totalWatts } from '../building/building.js';
import { buildSite } from '../site.js';
import { wiringFault } from './wiring.js';

const START = Date.UTC(2026, 9, 20, 12);

/** The sample site with some loads forced on, run for a moment. */
function running(...loads: string[]) {
  const site = buildSite(7, START);
  for (const load of loads) site.building.modes.set(load, 'on');
  site.building.advance(START + 5000, 100);
  const place = (name: string) => {
    const found = site.wiring.places.get(name);
    if (!found) throw new Error(name);
    return found;
  };
  return { site, place };
}

describe('wiring', () => {
  it('reads the truth where nothing is wrong', () => {
    const { site, place } = running('deck-oven');
    expect(place('oven-meter').flow()).toEqual(site.building.flows.get('deck-oven'));
  });

  it('turns the power of a reversed clamp, and leaves its current', () => {
    const { place } = running('deck-oven');
    const before = place('oven-meter').flow();
    place('oven-meter').wire({ kind: 'reversed', lines: ['L2'] });
    const after = place('oven-meter').flow();
    expect(after.L2.watts).toBeCloseTo(-before.L2.watts, -1);
    expect(after.L2.amperes).toBeCloseTo(before.L2.amperes, 1);
    expect(after.L1.watts).toBeCloseTo(before.L1.watts, -1);
  });

  it('makes next to nothing of a heater’s power with two clamps exchanged: 1 − 0.5 − 0.5', () => {
    const { place } = running('deck-oven');
    const true_ = totalWatts(place('oven-meter').flow());
    place('oven-meter').wire({ kind: 'swapped', lines: ['L2', 'L3'] });
    const flow = place('oven-meter').flow();
    expect(Math.abs(totalWatts(flow))).toBeLessThan(0.03 * true_);
    expect(flow.L2.watts / (flow.L2.volts * flow.L2.amperes)).toBeCloseTo(-0.5, 2);
  });

  it('multiplies with another line’s voltage', () => {
    const { place } = running('dishwasher');
    place('dishwasher-meter').wire({ kind: 'wrong-phase', line: 'L1' });
    const { watts, volts, amperes } = place('dishwasher-meter').flow().L2;
    expect(watts / (volts * amperes)).toBeCloseTo(-0.5, 2);
  });

  it.each([
    [{ kind: 'bypassed', share: 0.23 }, 0.23],
    [{ kind: 'both-conductors' }, 0.001],
    [{ kind: 'wrong-ratio', factor: 2 }, 2],
  ] as const)('%j leaves a share of power and current, and its counter counts that', (fault, share) => {
    const { site, place } = running('dishwasher');
    const dish = place('dishwasher-meter');
    const truth = totalWatts(dish.flow());
    dish.wire(fault);
    expect(totalWatts(dish.flow())).toBeCloseTo(truth * share, 0);
    const taken = () => (site.building.energy.get('dishwasher') ?? 0) + dish.counter.taken;
    const before = taken();
    site.building.advance(START + 65_000, 100);
    expect(taken() - before).toBeCloseTo((truth * share * 60) / 3600, -0.5);
  });

  it('follows another load, stands still, and is cut off at the top', () => {
    const { site, place } = running('dishwasher', 'espresso');
    const dish = place('dishwasher-meter');
    dish.wire({ kind: 'other-circuit', load: 'espresso' });
    const espresso = site.building.flows.get('espresso');
    expect(dish.flow().L2.amperes).toBeCloseTo(espresso?.L3.amperes ?? 0, 1);
    dish.wire({ kind: 'clipped', amperes: 5 });
    expect(dish.flow().L2.amperes).toBe(5);
    dish.wire({ kind: 'stuck' });
    const stood = dish.flow().L2.watts;
    site.building.modes.set('dishwasher', 'off');
    site.building.advance(START + 9000, 100);
    expect(dish.flow().L2.watts).toBe(stood);
    dish.wire({ kind: 'none' });
    expect(dish.flow().L2.watts).toBeLessThan(5);
  });

  it('has the dishwasher bridged from its 24th day on, and not before', () => {
    const site = buildSite(7, START);
    const kind = () => site.wiring.places.get('dishwasher-meter')?.fault.kind;
    site.building.advance(START + 23 * 86_400_000, 600_000);
    expect(kind()).toBe('none');
    site.building.advance(START + 24 * 86_400_000, 600_000);
    expect(kind()).toBe('bypassed');
  });

  it('says what is wrong with a fault that is typed', () => {
    expect(() => wiringFault({ kind: 'loose' })).toThrow(/no wiring loose; there are none, reversed/);
    expect(() => wiringFault({ kind: 'bypassed' })).toThrow(/wants share, a number/);
    expect(() => wiringFault({ kind: 'swapped', lines: ['L1'] })).toThrow(/two lines/);
    expect(() => wiringFault({ kind: 'wrong-phase', line: 'L4' })).toThrow(/L4 is no line/);
    expect(wiringFault({ kind: 'reversed', lines: [] })).toEqual({ kind: 'reversed' });
  });
});
