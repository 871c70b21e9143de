import type { Look, Metered, Plate } from './circuit.js';
import { findAsked, type FoundStep } from './stepTest.js';
import type { Trace } from './trace.js';

// Invented readings of a right meter and of the one above it, each read at its own pace. The load is 2 kW, so whatever is
// said of it, it is never "fail"; and where each meter has five readings on either side, it is 2 kW.

const HEATER: Plate = { name: 'Heater', watts: 2000, powerFactor: 1 };
const FIRST = 30_130;
const END = 60_000;

function meter(id: number, base: number, pace: number, lag: number, isOn: (t: number) => boolean): Metered {
  const t = Array.from({ length: Math.floor(END / pace) }, (_, i) => i * pace + lag);
  const of = (value: (t: number) => number, scatter: number): Trace => ({
    t,
    v: t.map((at, i) => value(at) + scatter * Math.sin(12.9898 * i)),
  });
  const watts = (at: number) => base + (isOn(at) ? 2000 : 0);
  return {
    id,
    name: id === 1 ? 'Way 3' : 'Main meter',
    channels: [
      {
        line: 'L1',
        voltage: of(() => 230, 0.1),
        current: of((at) => watts(at) / 230, 0.003),
        power: of(watts, 1),
        reactive: null,
      },
    ],
    total: null,
    counter: null,
  };
}

/** What has been read by an instant. */
function upTo(look: Metered, now: number): Metered {
  const cut = (trace: Trace | null): Trace | null => {
    if (!trace) return null;
    const count = trace.t.filter((t) => t <= now).length;
    return { t: trace.t.slice(0, count), v: trace.v.slice(0, count) };
  };
  return {
    ...look,
    channels: look.channels.map((c) => ({
      ...c,
      voltage: cut(c.voltage),
      current: cut(c.current),
      power: cut(c.power),
    })),
  };
}

const lookOf = (own: Metered, above: Metered, load: Plate): Look => ({
  circuit: {
    name: 'Way 3',
    lines: ['L1'],
    system: 'three-phase',
    nominalVoltage: 230,
    frequency: 50,
    ratedCurrent: 16,
    feedsIn: false,
    reach: 'clamp',
    range: null,
    loads: [load],
  },
  own,
  above,
  others: [],
  below: [],
  beside: [],
  switchings: [],
  offSpans: [],
  frequency: null,
});

/** What is said first, as the readings come in; the load is switched at {@link FIRST} and back after `gap` ms. */
function found(
  goes: 'on' | 'off',
  asked: 'first' | 'back',
  paces: { own: number; above: number },
  gap: number,
): FoundStep | null {
  const isOn = (t: number) => (t >= FIRST && t < FIRST + gap) === (goes === 'on');
  const own = meter(1, 40, paces.own, 0, isOn);
  const above = meter(2, 900, paces.above, 77, isOn);
  const on = asked === 'first' ? goes === 'on' : goes === 'off';
  for (let now = FIRST; now < END; now += 1000) {
    const look = lookOf(upTo(own, now), upTo(above, now), HEATER);
    const step = findAsked(look, { askedAt: FIRST - 100, on, load: HEATER });
    if (step) return step;
  }
  return null;
}

const GOES = ['on', 'off'] as const;
const ASKED = ['first', 'back'] as const;
const PACES = [200, 500, 1000, 2000];
const GAPS = [500, 1000, 1500, 2000, 2500, 3000, 3500, 4000, 5000];
const cases = GOES.flatMap((goes) => ASKED.map((asked) => [goes, asked] as const));

describe.each(cases)(
  'a load that goes %s and back within seconds, the %s of the two asked for',
  (goes, asked) => {
    it('never makes a right meter a wrong one, at whatever paces it and the one above are read', () => {
      const said = PACES.flatMap((own) =>
        [200, 1000, 2000].flatMap((above) =>
          GAPS.map((gap) => ({ own, above, gap, ...found(goes, asked, { own, above }, gap) })),
        ),
      );
      expect(said.filter((s) => s.verdict === 'fail')).toEqual([]);
      expect(said.filter((s) => s.verdict === 'pass').length).toBeGreaterThan(said.length / 4);
    });

    it('is sized right where each of the two meters has been read on either side', () => {
      for (const own of [200, 500, 1000])
        for (const above of [200, 1000]) {
          const step = found(goes, asked, { own, above }, 8000);
          expect(step?.verdict).toBe('pass');
          expect(step?.own).toBeCloseTo(2000, -1);
          expect(step?.above).toBeCloseTo(2000, -1);
        }
    });
  },
);

it('a motor whose inrush is read several times is known by what it takes then, not by what it took at first', () => {
  // 12 A for 1.6 s, then 2 A: read every 200 ms.
  const isOn = (t: number) => t >= FIRST;
  const motor = (id: number, base: number, lag: number): Metered => {
    const of = meter(id, base, 200, lag, isOn);
    const [channel] = of.channels;
    const t = channel?.power?.t ?? [];
    const amperes = t.map((at) => (at < FIRST ? 0 : at < FIRST + 1600 ? 12 : 2));
    return {
      ...of,
      channels: [
        {
          line: 'L1',
          voltage: channel?.voltage ?? null,
          current: { t, v: amperes.map((a, i) => base / 230 + a + 0.003 * Math.sin(12.9898 * i)) },
          power: { t, v: amperes.map((a, i) => base + 230 * a + Math.sin(12.9898 * i)) },
          reactive: null,
        },
      ],
    };
  };
  const load: Plate = { name: 'Pump', watts: 460, powerFactor: 1 };
  const asked = { askedAt: FIRST - 100, on: true, load };
  const step = findAsked(lookOf(motor(1, 40, 0), motor(2, 900, 77), load), asked);
  expect(step?.verdict).toBe('pass');
  expect(step?.own).toBeCloseTo(460, -1);
});
