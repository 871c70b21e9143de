import { createWriteStream } from 'node:fs';
import { finished } from 'node:stream/promises';
import { parseArgs } from 'node:util';
import { HOME } from './building/building.js';
import { buildSite, HISTORY_STEP, valuesOf } from './site.js';

// node fieldsim/dist/history.js --seed 7 --from ISO --to ISO --zone Europe/Lisbon --out FILE
// Writes what the devices would have read, one row a minute: time (UTC ms), then a column "device/value" each.
const MINUTE = 60_000;
const { values } = parseArgs({
  options: {
    seed: { type: 'string', default: '7' },
    from: { type: 'string' },
    to: { type: 'string' },
    zone: { type: 'string', default: HOME },
    out: { type: 'string' },
  },
});
const from = Date.parse(values.from ?? '');
const to = Date.parse(values.to ?? '');
if (Number.isNaN(from) || Number.isNaN(to) || to <= from || !values.out) {
  console.error('fieldsim history: --from and --to take ISO instants (from before to), --out a file');
  process.exit(2);
}

/**
 * Left out, to be loaded sooner: contacts that never moved, what other meters repeat of the main meter's voltages, and
 * of the smaller devices everything but power and energy.
 */
const SAYS_NOTHING_NEW =
  /^(relay-board|numbered|dc-sensor)\/|^oven-meter\/(voltage|frequency)|^(?!main-meter|oven-meter|clamp-node)[^/]*\/(?!power(-total)?$|energy-import$|pv-power$|battery-power$|state-of-charge$|current$|temperature$)/;

const site = buildSite(Number(values.seed), from, values.zone);
const out = createWriteStream(values.out);
const readings = () =>
  valuesOf(site).flatMap(({ name, values: now }) =>
    Object.entries(now).map(([key, value]) => ({ name: `${name}/${key}`, value })),
  );
const kept = readings().map(({ name }) => !SAYS_NOTHING_NEW.test(name));
out.write(
  `time,${readings()
    .filter((_, i) => kept[i])
    .map((r) => r.name)
    .join(',')}\n`,
);
for (let t = Math.ceil(from / MINUTE) * MINUTE; t < to; t += MINUTE) {
  site.building.advance(t, HISTORY_STEP);
  const row = readings()
    .filter((_, i) => kept[i])
    .map(({ value }) => String(Math.round(value * 1e4) / 1e4));
  if (!out.write(`${t},${row.join(',')}\n`))
    await new Promise<void>((resolve) => out.once('drain', () => resolve()));
}
out.end();
await finished(out);
