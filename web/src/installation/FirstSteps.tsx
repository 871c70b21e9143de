import { NodeInput } from '@loka/contract/installation';
import { SiteInput } from '@loka/contract/site';
import Alert from '@mui/material/Alert';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { mutate } from 'swr';
import { api } from '../api/client.js';
import { Choice } from '../shared/Choice.js';
import { useUnsaved } from '../shared/unsaved.js';
import { useProblemForm } from '../shared/useProblemForm.js';
import styles from './FirstSteps.module.css';

/**
 * The first-time path asks one question at a time: the site, its supply, and then (on the board) its first meter,
 * after which a reading moves.
 */
export default function FirstSteps() {
  const [site, setSite] = useState<SiteInput | null>(null);
  return (
    <main className={styles.sheet}>
      <svg viewBox="0 0 24 24" width="40" height="40" aria-hidden>
        <path d="M6 3v18M6 5.5h5M6 12h9M6 18.5h5" fill="none" stroke="var(--ink)" strokeWidth="3" />
        <circle cx="18" cy="12" r="3" fill="var(--accent)" />
      </svg>
      {site === null ? <AskSite onDone={setSite} /> : <AskSupply site={site} />}
    </main>
  );
}

function AskSite({ onDone }: { onDone: (site: SiteInput) => void }) {
  const zone = Intl.DateTimeFormat().resolvedOptions().timeZone;
  const form = useProblemForm(
    SiteInput,
    {
      name: '',
      timeZone: zone,
      nominalVoltage: 230,
      frequency: 50,
      supplySystem: 'three-phase' as const,
      conductorScheme: 'iec-60445' as const,
    },
    async (values) => onDone(values as SiteInput),
  );
  useUnsaved(form.dirty && !form.busy ? 'the site' : null);
  return (
    <form onSubmit={form.submit} noValidate>
      <p className={styles.count}>1 of 3</p>
      <h1>Which site is this?</h1>
      <TextField
        label="Name"
        autoFocus
        placeholder="For example Brindlewick Bakehouse"
        {...form.text('name')}
      />
      <details>
        <summary>
          {form.watch('timeZone')}, {form.watch('nominalVoltage')} V, {form.watch('frequency')} Hz
        </summary>
        <TextField label="Time zone" {...form.text('timeZone')} />
        <TextField label="Nominal voltage, V" {...form.text('nominalVoltage', true)} />
        <Choice
          control={form.control}
          name="frequency"
          label="Frequency"
          options={[50, 60].map((f) => ({ value: f, label: `${f} Hz` }))}
        />
      </details>
      <Button type="submit" variant="contained">
        Next
      </Button>
    </form>
  );
}

/** A split-phase supply is one of 120 V and 60 Hz, unless something else was said. */
function suppliedBy(site: SiteInput, phases: string): SiteInput {
  if (phases !== 'L1 L2') return site;
  const usual =
    site.nominalVoltage === 230 && site.frequency === 50 ? { nominalVoltage: 120, frequency: 60 } : {};
  return { ...site, ...usual, supplySystem: 'split-phase' };
}

function AskSupply({ site }: { site: SiteInput }) {
  const form = useProblemForm(
    NodeInput,
    {
      kind: 'supply',
      parentId: null,
      name: 'Supply',
      way: '',
      phases: 'L1 L2 L3',
      protectiveDevice: 'switch',
      ratedCurrent: 63,
    },
    async (values) => {
      await api('/site', 'PUT', suppliedBy(site, values.phases as string));
      const supply = await api<{ id: number }>('/installation', 'POST', values);
      await api('/installation', 'POST', {
        ...values,
        kind: 'board',
        parentId: supply.id,
        name: 'Main board',
        way: 'MB',
        protectiveDevice: null,
      });
      await mutate(() => true);
    },
  );
  // The site of the first question is saved together with the supply.
  useUnsaved(form.busy ? null : 'the site and its supply');
  return (
    <form onSubmit={form.submit} noValidate>
      <p className={styles.count}>2 of 3</p>
      <h1>How is it supplied?</h1>
      <Choice
        control={form.control}
        name="phases"
        label="Conductors"
        options={[
          { value: 'L1 L2 L3', label: 'Three phases' },
          { value: 'L1', label: 'Single phase' },
          { value: 'L1 L2', label: 'Split phase: two lines of 120 V, 240 V between them' },
        ]}
      />
      <TextField label="Main switch or fuse, A" {...form.text('ratedCurrent', true)} />
      {form.problem && (
        <Alert severity="error" variant="outlined">
          {form.problem}
        </Alert>
      )}
      <Button type="submit" variant="contained" disabled={form.busy}>
        Next
      </Button>
    </form>
  );
}
