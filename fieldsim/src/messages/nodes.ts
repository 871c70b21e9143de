import type { Building, Flow } from '../building/building.js';
import type { Line } from '../building/load.js';
import type { MeteredPlace } from '../wiring/wiring.js';
import type { NodeSpec } from './node.js';

const BASE = 'brindlewick';
const round = (value: number, digits: number): number => Number(value.toFixed(digits));

/** A plug meter with a relay: one JSON with several values every two seconds, its switch on topics of its own. */
export function plugMeter(
  building: Building,
  place: MeteredPlace,
  load: string,
  line: Line,
  counter: number,
): NodeSpec {
  const { name } = place;
  const base = `${BASE}/${name}`;
  const flow = (): Flow['L1'] => place.flow()[line];
  const values = () => {
    const { volts, amperes, watts, vars } = flow();
    const apparent = Math.hypot(watts, vars);
    return {
      voltage: round(volts, 1),
      current: round(amperes, 3),
      power: round(watts, 1),
      'power-factor': round(apparent > 0.5 ? watts / apparent : 1, 2),
      'energy-import': round(counter + (building.energy.get(load) ?? 0) + place.counter.taken, 0),
      contact: (building.contacts.get(load) ?? true) ? 1 : 0,
    };
  };
  return {
    name,
    everyMs: 2000,
    online: `${base}/online`,
    values,
    report: () => {
      const v = values();
      return {
        topic: `${base}/report`,
        payload: JSON.stringify({
          at: new Date().toISOString(),
          mains: { volts: v.voltage, amps: v.current, watts: v.power, factor: v['power-factor'] },
          counter: { kwh: round(v['energy-import'] / 1000, 3) },
          closed: v.contact === 1,
        }),
      };
    },
    command: {
      topic: `${base}/contact/wanted`,
      take: (payload) => {
        if (payload === 'close' || payload === 'open') building.contacts.set(load, payload === 'close');
      },
      state: () => ({ topic: `${base}/contact`, payload: values().contact === 1 ? 'closed' : 'open' }),
    },
  };
}

/** A bare clamp with a radio and no voltage: a plain number of amperes every five seconds. */
export function bareClamp(place: MeteredPlace, line: Line): NodeSpec {
  const { name } = place;
  const amperes = () => round(place.flow()[line].amperes, 2);
  return {
    name,
    everyMs: 5000,
    values: () => ({ current: amperes() }),
    report: () => ({ topic: `${BASE}/${name}/amps`, payload: String(amperes()) }),
  };
}
