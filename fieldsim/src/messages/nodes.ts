import type { Building, Flow } from '../building/building.js';
import type { Line } from '../building/load.js';
import type { MeteredPlace } from '../wiring/wiring.js';
import type { NodeCommand, NodeSpec } from './node.js';

const BASE = 'brindlewick';
const round = (value: number, digits: number): number => Number(value.toFixed(digits));

/** What can be set in a plug meter: how often it reports, and whether it counts what flows back as taken. */
interface PlugSettings {
  everySeconds: number;
  turned: boolean;
}

/** Settings are sent as JSON with what is to change, and told whole, retained; what makes no sense changes nothing. */
function settingsOf(base: string, settings: PlugSettings): NodeCommand {
  return {
    topic: `${base}/settings/wanted`,
    take: (payload) => {
      let wanted: unknown;
      try {
        wanted = JSON.parse(payload);
      } catch {
        return; // a device does not complain
      }
      if (typeof wanted !== 'object' || wanted === null) return;
      const { every, turned } = wanted as { every?: unknown; turned?: unknown };
      if (typeof every === 'number' && every >= 1 && every <= 3600) settings.everySeconds = Math.round(every);
      if (typeof turned === 'boolean') settings.turned = turned;
    },
    state: () => ({
      topic: `${base}/settings`,
      payload: JSON.stringify({ every: settings.everySeconds, turned: settings.turned }),
    }),
  };
}

/** A plug meter with a relay: one JSON with several values, its switch and its settings on topics of their own. */
export function plugMeter(
  building: Building,
  place: MeteredPlace,
  load: string,
  line: Line,
  counter: number,
): NodeSpec {
  const { name } = place;
  const base = `${BASE}/${name}`;
  const settings: PlugSettings = { everySeconds: 2, turned: false };
  const flow = (): Flow['L1'] => place.flow()[line];
  const values = () => {
    const { volts, amperes, watts: flowing, vars } = flow();
    const watts = settings.turned ? -flowing : flowing;
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
    everyMs: () => settings.everySeconds * 1000,
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
    commands: [
      {
        topic: `${base}/contact/wanted`,
        take: (payload) => {
          if (payload === 'close' || payload === 'open') building.contacts.set(load, payload === 'close');
        },
        state: () => ({ topic: `${base}/contact`, payload: values().contact === 1 ? 'closed' : 'open' }),
      },
      settingsOf(base, settings),
    ],
  };
}

/** A thermometer with a radio: degrees as a plain number, every five seconds. */
export function thermometer(name: string, celsius: () => number): NodeSpec {
  const shown = () => round(celsius(), 1);
  return {
    name,
    everyMs: () => 5000,
    values: () => ({ temperature: shown() }),
    report: () => ({ topic: `${BASE}/${name}/degrees`, payload: String(shown()) }),
  };
}

/** A bare clamp with a radio and no voltage: a plain number of amperes every five seconds. */
export function bareClamp(place: MeteredPlace, line: Line): NodeSpec {
  const { name } = place;
  const amperes = () => round(place.flow()[line].amperes, 2);
  return {
    name,
    everyMs: () => 5000,
    values: () => ({ current: amperes() }),
    report: () => ({ topic: `${BASE}/${name}/amps`, payload: String(amperes()) }),
  };
}
