import type { Calibration } from '@loka/contract/calibration';
import type { Fitting } from '@loka/contract/fittings';
import { Loka } from './support/loka.js';
import { register } from './support/point.js';
import { MINUTE, Recorded } from './support/recorded.js';

// The history of what was fitted when, and that no correction reaches back over a change of it unasked.
let loka: Loka;
let site: Recorded;
const START = Math.floor(Date.now() / MINUTE) * MINUTE - 90 * MINUTE;
beforeAll(async () => {
  loka = await Loka.start(undefined, { acquire: false });
  site = await Recorded.make(loka, [register('current', 0, { quantity: 'current', unit: 'A', phase: 'L1' })]);
  await site.minutely('current', START, 60, () => 10);
});
afterAll(() => loka.stop());

const fittings = async () =>
  (await loka.ask<Fitting[]>(`/fittings?node=${site.place}`)).map(({ kind, says, at }) => ({
    kind,
    says,
    at,
  }));
const transducer = (validFrom: number, more: object) =>
  loka.ask('/sensing', 'POST', {
    pointIds: [site.id('current')],
    validFrom,
    ratio: 1,
    turns: 1,
    reversed: false,
    ...more,
  });
/** A correction by what was read over five minutes. */
const calibrate = (from: number, validFrom: number, more: object = {}) =>
  loka.raw('/calibrations', 'POST', {
    pointId: site.id('current'),
    points: [{ label: 'Load', from, to: from + 5 * MINUTE, reference: 5.25 }],
    validFrom,
    withPower: false,
    ...more,
  });
const problem = ({ body }: { body: unknown }) => {
  const { type, errors } = body as { type: string; errors?: { field: string; message: string }[] };
  return { type: type.split(':').at(-1), at: Number(errors?.[0]?.message) };
};

it('says what measures a place, from when on, and what was changed', async () => {
  const before = await fittings();
  expect(before.map((f) => f.kind)).toEqual(['device']);
  expect(before[0]?.says).toMatch(/measures it: 1 value$/);
  const at = START + 30 * MINUTE;
  await transducer(at, { kind: 'current-transformer', ratedCurrent: 60, turns: 2 });
  const after = await fittings();
  expect(after.map((f) => f.kind).sort()).toEqual(['device', 'transducer']);
  expect(after.find((f) => f.kind === 'transducer')).toEqual({
    kind: 'transducer',
    at,
    says: 'Current transformer or clamp, 60 A, 2 turns',
  });
});

it('no correction reaches back over a change unasked; it may when it is said', async () => {
  const change = START + 30 * MINUTE;
  expect(problem(await calibrate(START + 40 * MINUTE, START))).toEqual({ type: 'across-change', at: change });
  // From the change on, and from before it for what was read before it.
  expect((await calibrate(START + 40 * MINUTE, change)).status).toBe(201);
  const { status, body } = await calibrate(START + 40 * MINUTE, START, { anyway: true });
  expect(status).toBe(201);
  expect((body as Calibration).validFrom).toBe(START);
});

it('points that were taken on both sides of a change make no correction, whatever is said', async () => {
  await transducer(START + 50 * MINUTE, { turns: 3 });
  expect(problem(await calibrate(START + 48 * MINUTE, START + 49 * MINUTE, { anyway: true })).type).toBe(
    'changed-between',
  );
});

it('what was found before it was rewired says nothing of now', async () => {
  await loka.ask(`/verifications/${site.place}/look-anew`, 'POST');
  expect((await fittings())[0]?.says).toBe('Rewired');
  expect(problem(await calibrate(START + 52 * MINUTE, START + 51 * MINUTE)).type).toBe('across-change');
});
