import type { Calibration, DriftSeen } from '@loka/contract/calibration';
import type { InstallationNode } from '@loka/contract/installation';
import type { Instrument } from '@loka/contract/instruments';
import type { Point } from '@loka/contract/points';
import type { CircuitRecord, SiteRecord } from '@loka/contract/record';
import { getDocument } from 'pdfjs-dist/legacy/build/pdf.mjs';
import { IntervalBook } from '../src/series/intervalBook.js';
import { SampleStore } from '../src/series/sampleStore.js';
import { Loka } from './support/loka.js';
import { register } from './support/point.js';
import { DAY, HOUR, MINUTE, Recorded } from './support/recorded.js';

// A site that nobody polls: what is read of it is put in. Two devices of one kind.
let loka: Loka;
let site: Recorded;
let twin: Point[];
const START = Math.floor(Date.now() / DAY) * DAY - 40 * DAY;
/** Second by second, so that a span of five has what a capture wants. */
const second = async (id: number, from: number, count: number, value: (i: number) => number) => {
  const store = loka.app.get(SampleStore);
  store.append(
    Array.from({ length: count }, (_, i) => ({ pointId: id, t: from + i * 1000, v: value(i), q: 0 })),
  );
  await store.flush();
};

beforeAll(async () => {
  loka = await Loka.start(undefined, { acquire: false });
  site = await Recorded.make(loka, [
    register('current', 0, { quantity: 'current', unit: 'A', phase: 'L1', type: 'float32' }),
    register('voltage', 2, { quantity: 'voltage', unit: 'V', phase: 'L1', type: 'float32' }),
  ]);
  const maps = await loka.ask<{ id: number; name: string }[]>('/register-maps');
  const links = await loka.ask<{ id: number }[]>('/links');
  const { id } = await loka.ask<{ id: number }>('/devices', 'POST', {
    linkId: links[0]?.id,
    mapId: maps.find((m) => m.name === 'Recorded')?.id,
    name: 'Twin',
    unit: 2,
  });
  await loka.ask(`/devices/${id}/assignment`, 'PUT', { nodeId: site.place });
  twin = (await loka.ask<Point[]>('/points')).filter((p) => p.deviceId === id);
  for (const point of twin)
    await loka.sql.query('REPLACE INTO point_intervals VALUES (?, 0, ?)', [point.id, MINUTE]);
  await loka.app.get(IntervalBook).reload();
});
afterAll(() => loka.stop());

const idOf = (key: string) => twin.find((p) => p.key === key)?.id as number;
const textOf = async (path: string) => {
  const response = await fetch(`${loka.base}/api${path}`);
  expect(response.headers.get('content-type')).toBe('application/pdf');
  const document = await getDocument({ data: new Uint8Array(await response.arrayBuffer()) }).promise;
  const pages: string[] = [];
  for (let i = 1; i <= document.numPages; i++) {
    const { items } = await (await document.getPage(i)).getTextContent();
    pages.push(items.map((item) => ('str' in item ? item.str : '')).join(' '));
  }
  return pages.map((p) => p.replace(/\s+/g, ' '));
};
/** Words as a PDF has them: broken over lines, and joined again by blanks. */
const plain = (words: string) => words.replace(/\s+/g, ' ').trim();

let good: Instrument;
let old: Instrument;
const instrument = (name: string, dueOn: string | null) =>
  loka.ask<Instrument>('/instruments', 'POST', {
    name,
    serial: `${name}-1`,
    percent: 0.5,
    certificate: 'Lab 7',
    calibratedOn: '2020-02-29',
    dueOn,
  });

it('reference instruments have their own due days, and only possible ones', async () => {
  good = await instrument('Clamp', '2999-12-31');
  old = await instrument('Old clamp', '2021-02-28');
  expect([good.isDue, old.isDue]).toEqual([false, true]);
  for (const [field, value] of [
    ['dueOn', '2026-02-30'],
    ['dueOn', 'soon'],
    ['dueOn', '2019-01-01'],
    ['percent', -1],
    ['name', ''],
  ] as const)
    expect(
      await loka.raw(`/instruments/${good.id}`, 'PUT', { ...inputOf(good), [field]: value }),
    ).toMatchObject({
      status: 422,
      body: { errors: [{ field }] },
    });
  // Two people change it.
  const mine = { ...inputOf(good), serial: 'A', version: good.version };
  await loka.ask(`/instruments/${good.id}`, 'PUT', mine);
  expect(await loka.raw(`/instruments/${good.id}`, 'PUT', mine)).toMatchObject({ status: 409 });
  const spare = await instrument('Spare', null);
  await loka.ask(`/instruments/${spare.id}`, 'DELETE');
  expect((await loka.ask<Instrument[]>('/instruments')).map((i) => i.name)).toEqual(['Clamp', 'Old clamp']);
  await loka.ask(`/instruments/${spare.id}/put-back`, 'POST');
  expect((await loka.ask<Instrument[]>('/instruments')).map((i) => i.name)).toContain('Spare');
  await loka.ask(`/instruments/${spare.id}`, 'DELETE');
  expect(await loka.raw(`/instruments/${spare.id}`, 'DELETE')).toMatchObject({ status: 404 });
});
const inputOf = ({ name, serial, percent, certificate, calibratedOn, dueOn }: Instrument) => ({
  name,
  serial,
  percent,
  certificate,
  calibratedOn,
  dueOn,
});

describe('a calibration', () => {
  const at = START + 2 * DAY;
  let made: Calibration;
  const points = (used: Instrument) => [
    { label: 'Zero', kind: 'zero', from: at, to: at + 5000, reference: 0 },
    ...[10, 20].map((amperes, i) => ({
      label: `Load ${amperes} A`,
      kind: 'instrument',
      name: used.name,
      instrumentId: used.id,
      percent: used.percent,
      digit: 0.01,
      from: at + (i + 1) * 60_000,
      to: at + (i + 1) * 60_000 + 5000,
      reference: amperes,
    })),
    {
      label: 'Load 5 A',
      kind: 'instrument',
      name: used.name,
      instrumentId: used.id,
      percent: used.percent,
      digit: 0.01,
      from: at + 180_000,
      to: at + 185_000,
      reference: 5,
      check: true,
    },
  ];
  const input = (used: Instrument, more = {}) => ({
    pointId: site.id('current'),
    points: points(used),
    validFrom: START,
    withPower: false,
    dueMonths: 12,
    ...more,
  });

  beforeAll(async () => {
    // It reads 4 % too little, and 0.04 A with nothing.
    const raw = (amperes: number) => 0.96 * amperes + 0.04;
    for (const [i, amperes] of [0, 10, 20, 5].entries())
      await second(site.id('current'), at + i * 60_000, 6, (k) => raw(amperes) + 0.0005 * (k % 2));
  });

  it('with an instrument that is past due is asked about, and keeps the instrument as it was', async () => {
    expect(await loka.raw('/calibrations', 'POST', input(old))).toMatchObject({
      status: 409,
      body: { detail: expect.stringContaining('“Old clamp” was due for its own calibration on 2021-02-28') },
    });
    made = await loka.ask<Calibration>('/calibrations', 'POST', input(good, { basis: 0 }));
    expect(made.gain).toBeCloseTo(1 / 0.96, 3);
    expect(made.who).not.toBe('');
    // Twelve months by the calendar.
    const due = new Date(made.dueAt as number);
    expect(due.getUTCFullYear() * 12 + due.getUTCMonth()).toBe(
      new Date(made.madeAt).getUTCFullYear() * 12 + new Date(made.madeAt).getUTCMonth() + 12,
    );
    await loka.ask(`/instruments/${good.id}`, 'PUT', { ...inputOf(good), serial: 'changed since' });
    const [kept] = await loka.ask<Calibration[]>(`/calibrations?point=${site.id('current')}`);
    expect(kept?.points[1]?.instrument).toMatchObject({ name: 'Clamp', serial: 'A', wasDue: false });
    await loka.ask(`/instruments/${good.id}`, 'PUT', { ...inputOf(good), serial: 'A' });
  });

  it('of two people the second is told, and nothing is replaced unseen', async () => {
    expect(await loka.raw('/calibrations', 'POST', input(good, { basis: 0 }))).toMatchObject({
      status: 409,
      body: { now: { gain: made.gain } },
    });
    // In the same moment, too.
    const together = await Promise.all(
      [1, 2, 3].map(() => loka.raw('/calibrations', 'POST', input(good, { basis: made.id }))),
    );
    expect(together.map((t) => t.status).sort()).toEqual([201, 409, 409]);
    const again = together.find((t) => t.status === 201)?.body as Calibration;
    await loka.ask(`/calibrations/${again.id}/undo`, 'POST');
    const list = await loka.ask<Calibration[]>(`/calibrations?point=${site.id('current')}`);
    expect(list).toHaveLength(2);
  });

  it('finds the gain alone, or the offset alone, where that is asked for', async () => {
    const alone = await loka.ask<Calibration>(
      '/calibrations',
      'POST',
      input(good, { basis: made.id, method: 'gain' }),
    );
    expect(alone.offset).toBe(0);
    expect(alone.fit?.method).toBe('gain');
    await loka.ask(`/calibrations/${alone.id}/undo`, 'POST');
  });

  it('is copied to a like device, marked as not measured, and taken back', async () => {
    const id = site.id('current');
    expect(await loka.ask<number[]>(`/calibrations/alike?point=${id}`)).toEqual([idOf('current')]);
    expect(
      await loka.raw(`/calibrations/${made.id}/copy`, 'POST', { pointIds: [idOf('voltage')], validFrom: 0 }),
    ).toMatchObject({ status: 422, body: { errors: [{ field: 'pointIds' }] } });
    const [copy] = await loka.ask<number[]>(`/calibrations/${made.id}/copy`, 'POST', {
      pointIds: [idOf('current')],
      validFrom: 0,
    });
    const [copied] = await loka.ask<Calibration[]>(`/calibrations?point=${idOf('current')}`);
    expect(copied).toMatchObject({ gain: made.gain, points: [], fit: null, copiedFrom: { device: 'Meter' } });
    // It is applied, and counts as not calibrated.
    await second(idOf('current'), at, 1, () => 10);
    const [series] = await loka.ask<{ mean: number[] }[]>(
      `/readings?points=${idOf('current')}&from=${at}&to=${at + MINUTE}&width=500`,
    );
    expect(series?.mean[0]).toBeCloseTo(10 * made.gain + made.offset, 9);
    const twinPoint = (await loka.ask<Point[]>('/points')).find((p) => p.id === idOf('current'));
    expect(twinPoint).toMatchObject({ calibrated: false, copied: true });
    const record = await loka.ask<CircuitRecord>(`/records/circuits/${site.place}`);
    expect(record.open.join(' ')).toContain('Copied and not measured');
    await loka.ask(`/calibrations/${copy}/undo`, 'POST');
    const after = await loka.ask<CircuitRecord>(`/records/circuits/${site.place}`);
    expect(after.open.join(' ')).not.toContain('Copied');
  });

  it('stands in the record of its circuit, on screen and in the PDF with the same numbers', async () => {
    const record = await loka.ask<CircuitRecord>(`/records/circuits/${site.place}`);
    const part = record.sections.find((s) => s.title.startsWith('Calibration of'));
    const rows = part?.tables[0]?.rows ?? [];
    // By hand: 0.96 · 10 + 0.04 is 3.6 % below 10 A, 0.96 · 5 + 0.04 is 3.2 % below 5 A.
    expect(rows.map((r) => r[4])).toEqual(['0.040 A', '−3.60 %', '−3.80 %', '−3.20 %']);
    expect(rows[3]?.[0]).toBe('Load 5 A (check)');
    expect(part?.tables[1]?.rows).toEqual([['Clamp', 'A', 'Lab 7', '2020-02-29', '2999-12-31']]);
    const [text] = await textOf(`/records/circuits/${site.place}/record.pdf`);
    for (const words of [
      ...(part?.tables[1]?.rows.flat() ?? []),
      record.title,
      ...rows.flat(),
      ...(part?.facts.flat() ?? []),
      'Handed over by: name, date, signature',
    ])
      expect(text).toContain(plain(words));
  });

  it('the pack of the site has every measured place, what is open, and the instruments', async () => {
    const record = await loka.ask<SiteRecord>('/records/site');
    expect(record.circuits.map((c) => c.nodeId)).toEqual([site.place]);
    const pages = await textOf('/records/site.pdf');
    expect(pages).toHaveLength(1 + record.circuits.length);
    expect(pages[0]).toContain(`${record.site}`);
    expect(pages[0]).toContain('Clamp A ±0.5 % Lab 7 2020-02-29 2999-12-31');
    expect(pages[0]).toContain('2021-02-28, past');
    expect(pages[0]).toContain('Its wiring is not verified.');
    expect(pages[1]).toContain(plain(record.circuits[0]?.title ?? ''));
  });
});

it('labels carry the circuit, and an address that is one', async () => {
  const [page] = await textOf('/records/labels.pdf?address=http://192.168.1.20:8420');
  expect(page).toContain('Meter');
  expect(page).toContain('Twin');
  for (const address of ['javascript:alert(1)', 'nonsense', ''])
    expect(await loka.raw(`/records/labels.pdf?address=${encodeURIComponent(address)}`)).toMatchObject({
      status: 422,
    });
  expect(await loka.raw('/records/labels.pdf?address=http://loka:8420&nodes=999999')).toMatchObject({
    status: 422,
  });
  expect(await loka.raw('/records/circuits/999999')).toMatchObject({ status: 404 });
});

it('names and notes of users are text in a PDF, whatever they hold', async () => {
  const nodes = await loka.ask<InstallationNode[]>('/installation');
  const node = nodes.find((n) => n.id === site.place) as InstallationNode;
  const name = 'Öfen <b>&"1" {x} ' + 'w'.repeat(60);
  const input = Object.fromEntries(
    [
      'kind',
      'parentId',
      'way',
      'phases',
      'protectiveDevice',
      'ratedCurrent',
      'ratedPower',
      'powerFactor',
      'flow',
    ].map((k) => [k, node[k as keyof InstallationNode]]),
  );
  await loka.ask(`/installation/${node.id}`, 'PUT', { ...input, name });
  const [text] = await textOf(`/records/circuits/${site.place}/record.pdf`);
  expect(text).toContain('Öfen <b>&"1" {x}');
});

it('a voltage that creeps away from the other one of its line since it was calibrated is named', async () => {
  const id = site.id('voltage');
  const at = START + 3 * DAY;
  await second(id, at, 6, () => 230);
  const made = await loka.ask<Calibration>('/calibrations', 'POST', {
    pointId: id,
    points: [{ label: 'One', kind: 'instrument', from: at, to: at + 5000, reference: 230, percent: 0.2 }],
    validFrom: START,
    withPower: false,
  });
  await loka.sql.query('UPDATE calibrations SET madeAt = ? WHERE id = ?', [at, made.id]);
  expect(await loka.ask<DriftSeen[]>('/calibrations/drifts')).toEqual([]);
  const days = 30;
  const volts = (i: number) => 230 + 3 * Math.sin(i / 40);
  const store = loka.app.get(SampleStore);
  for (const [pointId, factor] of [
    [id, (share: number) => 1 + 0.02 * share],
    [idOf('voltage'), () => 1],
  ] as const)
    store.append(
      Array.from({ length: days * 288 }, (_, i) => ({
        pointId,
        t: at + HOUR + i * 5 * MINUTE,
        v: volts(i) * factor(i / (days * 288)),
        q: 0,
      })),
    );
  await store.flush();
  await site.rollUp();
  // What was looked at before is looked at again when something has been calibrated.
  const again = await loka.ask<Calibration>('/calibrations', 'POST', {
    pointId: id,
    points: [{ label: 'One', kind: 'instrument', from: at, to: at + 5000, reference: 230, percent: 0.2 }],
    validFrom: START,
    withPower: false,
  });
  await loka.sql.query('UPDATE calibrations SET madeAt = ? WHERE id = ?', [at, again.id]);
  const [drift] = await loka.ask<DriftSeen[]>('/calibrations/drifts');
  expect(drift).toMatchObject({ pointId: id, neighbourId: idOf('voltage') });
  expect(drift?.by).toBeCloseTo(0.02, 3);
  const record = await loka.ask<CircuitRecord>(`/records/circuits/${site.place}`);
  expect(record.open.join(' ')).toMatch(/drifts from “Twin, .*”: \+2\.0 % ± 0\.\d % in 30 days/);
});
