import type { PlacesBackup } from '@loka/contract/backup';
import type { ProblemDetails } from '@loka/contract/health';
import { Loka } from './support/loka.js';
import { register } from './support/point.js';
import { DAY, HOUR, MINUTE, Recorded, spareCircuit } from './support/recorded.js';

// A source tried on three recorded days of a cold room that draws 1250 W for 18 min every 6 h, 800 W for the first 24 min of
// each hour, else 46 W.
let loka: Loka;
let site: Recorded;
const START = Math.floor(Date.now() / DAY) * DAY - 4 * DAY;
const watts = (minute: number) => (minute % 360 < 18 ? 1250 : minute % 60 < 24 ? 800 : 46);

beforeAll(async () => {
  loka = await Loka.start(undefined, { acquire: false });
  site = await Recorded.make(loka, [
    register('power', 0, { quantity: 'active-power', unit: 'W', phase: 'total', type: 'float32' }),
  ]);
  await site.minutely('power', START, 4321, watts);
  await site.rollUp();
}, 60_000);
afterAll(() => loka.stop());

const SOURCE = {
  continuous: 2000,
  peak: 4000,
  peakFor: 2,
  energy: 1000,
  efficiency: 1,
  charged: 1,
  lasting: 2 * HOUR,
};
const address = (part: object = {}) => {
  const query = { nodes: site.place, from: START, to: START + 3 * DAY, ...SOURCE, ...part };
  return `/profile/backup?${new URLSearchParams(Object.entries(query).map(([k, v]) => [k, String(v)])).toString()}`;
};
const ask = (part?: object) => loka.ask<PlacesBackup>(address(part));
const outageAt = ({ outages }: PlacesBackup, at: number) => {
  const i = outages.starts.indexOf(at);
  return { lasts: outages.lasts[i] as number, ends: outages.ends[i], by: outages.by[i] };
};

it('energy decides how long, as by hand', async () => {
  const got = await ask({ at: START + 6 * HOUR + 5 * MINUTE });
  expect(got).toMatchObject({ from: START, to: START + 3 * DAY, step: MINUTE });
  expect(got.outages.starts).toHaveLength(3 * 96);
  // From 06:00: 375 Wh by the defrost, 80 Wh of run and 27.6 Wh of standby make 482.6 Wh in the first hour; 347.6 Wh in the
  // second; 169.8 Wh at 800 W take 12.7 min.
  const six = outageAt(got, START + 6 * HOUR);
  expect(six).toMatchObject({ ends: 'energy', by: 0 });
  expect(Math.abs(six.lasts - (2 * HOUR + 12.7 * MINUTE))).toBeLessThan(MINUTE);
  expect(got.course).toMatchObject({ start: START + 6 * HOUR, lasts: six.lasts });
  expect(got.course?.left[59]).toBeCloseTo(1000 - 482.6, -1);
  expect(got.highest).toMatchObject({ watts: 1250, together: 1250 });
  // 18 min of 1250 W and 6 of 800 W, then 36 min of 46 W, and the run of the hour after.
  expect(got.need?.continuous).toBeCloseTo(1250, -1);
  expect(Math.abs((got.need?.energy ?? 0) - (482.6 + 347.6))).toBeLessThan(15);
  expect(got.figures).toMatchObject({ failed: 0 });
  expect(got.loads[0]).toMatchObject({ nodeId: site.place, gives: 0, readEvery: MINUTE });
  expect(got.loads[0]?.recurring[0]?.watts).toBeCloseTo(1250, -1);
});

it('a source that is too weak fails with the defrost, whatever it stores', async () => {
  const got = await ask({ continuous: 1000, peak: 1000, energy: 1e6 });
  expect(outageAt(got, START + HOUR)).toEqual({ lasts: 5 * HOUR, ends: 'peak', by: 0 });
  expect(outageAt(got, START + 6 * HOUR)).toEqual({ lasts: 0, ends: 'peak', by: 0 });
  const longer = await ask({ continuous: 1000, peak: 2000, peakFor: 30 * 60, energy: 1e6 });
  expect(new Set(longer.outages.ends)).toEqual(new Set(['unknown']));
});

it.each([
  ['no energy', { energy: 0 }, 'energy', 'energy above zero'],
  ['no power', { continuous: 0 }, 'continuous', 'power above zero'],
  ['a peak below the rest', { peak: 1000 }, 'peak', 'not below'],
  ['more than it stores', { efficiency: 1.1 }, 'efficiency', 'more than it stores'],
  ['an empty one', { charged: 0 }, 'charged', 'empty'],
  ['no number', { energy: 'much' }, 'energy', 'number'],
  ['a time of nothing', { lasting: 0 }, 'lasting', 'minute'],
  ['no load', { nodes: '' }, 'nodes', 'Choose a load'],
  ['the future', { from: Date.now() + DAY, to: Date.now() + 2 * DAY }, 'from', 'future'],
])('%s is refused at its field', async (_, part, field, words) => {
  const { status, body } = await loka.raw(address(part));
  expect(status).toBe(422);
  const fault = (body as ProblemDetails).errors?.find((e) => e.field.startsWith(field));
  expect(fault?.message).toContain(words);
});

it('sun has to come from a place that gives, a load from one that is there and measured', async () => {
  const dark = await loka.raw(address({ sun: site.place }));
  expect(dark.status).toBe(422);
  expect((dark.body as ProblemDetails).detail).toContain('gave no power');
  expect((await loka.raw(address({ nodes: 9999 }))).status).toBe(404);
  const { spare, board } = await spareCircuit(loka);
  expect((await loka.raw(address({ nodes: spare }))).status).toBe(409);
  // Of a board that nothing measures what lies behind it is carried.
  const whole = await ask({ nodes: board });
  expect(whole.figures).toEqual((await ask()).figures);
  const twice = await loka.raw(address({ nodes: [board, site.place] }));
  expect(twice).toMatchObject({ status: 422, body: { errors: [{ field: 'nodes' }] } });
});

it('of a period in which nothing was read nothing is said', async () => {
  const got = await ask({ from: START - 5 * DAY, to: START - 2 * DAY });
  expect(got).toMatchObject({
    highest: null,
    need: null,
    course: null,
    figures: { median: null, worst: null },
  });
  expect(got.outages.starts).toEqual([]);
});
