import { SUPPLY_SYSTEMS, type SupplySystem } from '@loka/core/installation';
import { SiteInput, type Site } from '@loka/contract/site';
import type { Point } from '@loka/contract/points';
import { isReadable } from '@loka/core/points';
import Alert from '@mui/material/Alert';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { mutate } from 'swr';
import { api } from '../api/client.js';
import { useHealth, usePoints, useSite } from '../api/useApi.js';
import { Choice } from '../shared/Choice.js';
import { useNotices } from '../shared/notices.js';
import { ChangedMeanwhile } from '../shared/ChangedMeanwhile.js';
import { useUnsaved } from '../shared/unsaved.js';
import { useProblemForm } from '../shared/useProblemForm.js';
import { ChangesTable } from './ChangesTable.js';
import { ClosedDays, Holidays } from './ClosedDays.js';
import styles from './SettingsPage.module.css';
import { usePointTitle } from '../shared/usePointTitle.js';

/** Settings of the site, how Loka itself fares, and who has changed what. */
export default function SettingsPage() {
  const { data } = useSite();
  const { data: health } = useHealth();
  const zone = data?.site?.timeZone ?? 'UTC';
  return (
    <div className={styles.page}>
      <div className={styles.columns}>
        {data?.site && <SiteForm site={data.site} />}
        <section aria-label="Loka itself">
          <h1>Loka itself</h1>
          {health?.matters.map(({ words }) => (
            <p key={words} className="danger" role="status">
              {words}
            </p>
          ))}
          {health && (
            <table className="plain">
              <tbody>
                <tr>
                  <td>Version</td>
                  <td className="measured">{health.version}</td>
                </tr>
                <tr>
                  <td>Database</td>
                  <td className={health.database.up ? 'ok' : 'danger'}>
                    {health.database.up ? 'answers' : `away: ${health.database.message}`}
                  </td>
                </tr>
                <tr>
                  <td>Samples</td>
                  <td className="measured">
                    {health.samples.perSecond.toFixed(1)} /s, {health.samples.waiting} waiting
                  </td>
                </tr>
                <tr>
                  <td>Spool</td>
                  <td className="measured">
                    {health.spool.samples} samples, {health.spool.lost} lost
                  </td>
                </tr>
                <tr>
                  <td>Links</td>
                  <td>{health.links.map((l) => `${l.name}: ${l.state}`).join('; ') || 'none'}</td>
                </tr>
                <tr>
                  <td>For programs</td>
                  <td>
                    <a href="/api/docs">/api/docs</a>
                  </td>
                </tr>
              </tbody>
            </table>
          )}
        </section>
      </div>
      <ChangesTable zone={zone} />
    </div>
  );
}

const SYSTEM_WORDS: Record<SupplySystem, string> = {
  'three-phase': 'one phase, or three of them 120° apart',
  'split-phase': 'two lines that are opposite (split phase)',
};

/** The points that measure a temperature; the chosen one also where it has been removed. */
function thermometers(points: readonly Point[], chosen: number | null, titleOf: (p: Point) => string) {
  const found = points.filter((p) => p.definition.quantity === 'temperature' && isReadable(p.definition));
  const isGone = chosen !== null && !found.some((p) => p.id === chosen);
  return [
    { value: null, label: 'nothing' },
    ...found.map((p) => ({ value: p.id, label: titleOf(p) })),
    ...(isGone ? [{ value: chosen, label: 'a thermometer that was removed' }] : []),
  ];
}

function SiteForm({ site }: { site: Site }) {
  const titleOf = usePointTitle();
  const { say } = useNotices();
  const { id: _id, version, ...values } = site;
  const form = useProblemForm(
    SiteInput,
    values,
    async (input) => {
      await api('/site', 'PUT', input);
      await mutate('/site');
      form.reset(input);
      say('The site was saved.');
    },
    version,
  );
  const { data: points = [] } = usePoints();
  useUnsaved(form.dirty && !form.busy ? 'the site' : null);
  return (
    <form onSubmit={form.submit} noValidate className={styles.form}>
      <h1>Site</h1>
      <TextField label="Name" {...form.text('name')} />
      <TextField label="Time zone" {...form.text('timeZone')} />
      <TextField label="Nominal voltage against neutral, V" {...form.text('nominalVoltage', true)} />
      <Choice
        control={form.control}
        name="frequency"
        label="Frequency"
        options={[50, 60].map((f) => ({ value: f, label: `${f} Hz` }))}
      />
      <Choice
        control={form.control}
        name="supplySystem"
        label="Lines of the supply"
        options={SUPPLY_SYSTEMS.map((s) => ({ value: s, label: SYSTEM_WORDS[s] }))}
      />
      <TextField label="Currency, three letters" {...form.text('currency')} />
      <TextField label="Price of a kWh from the supply" {...form.text('price', true)} />
      <TextField label="CO₂ of a kWh from the supply, g" {...form.text('carbon', true)} />
      <Choice
        control={form.control}
        name="outdoorPointId"
        label="Temperature outside, measured by"
        options={thermometers(points, site.outdoorPointId, titleOf)}
      />
      <ClosedDays control={form.control} name="closedDays" />
      <Holidays control={form.control} name="holidays" />
      {form.dialog.conflict && <ChangedMeanwhile {...form.dialog.conflict} />}
      {form.problem && (
        <Alert severity="error" variant="outlined">
          {form.problem}
        </Alert>
      )}
      <Button type="submit" variant="contained" disabled={form.busy}>
        Save
      </Button>
    </form>
  );
}
