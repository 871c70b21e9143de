import type { InstallationNode } from '@loka/contract/installation';
import type { Point } from '@loka/contract/points';
import { SensingInput, type SensingVersion } from '@loka/contract/sensing';
import {
  ACCURACY_CLASSES,
  HALL_SIGNALS,
  PLAIN_SENSING,
  RATIO_WORDS,
  sensingInWords,
  SIGNAL_WORDS,
  TRANSDUCER_WORDS,
  TRANSDUCERS,
  type Sensing,
  type Transducer,
} from '@loka/core/sensing';
import { fromSiteClock, siteClock } from '@loka/core/time';
import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { api } from '../api/client.js';
import { useSensing } from '../api/useApi.js';
import { sensedOf } from '../fit/applySensing.js';
import { Choice } from '../shared/Choice.js';
import { FormDialog } from '../shared/FormDialog.js';
import { serverNow } from '../api/clock.js';
import { useNotices } from '../shared/notices.js';
import { usePeriod } from '../shared/period.js';
import { useProblemForm } from '../shared/useProblemForm.js';
import { SensingFigures } from './SensingFigures.js';
import { InstantField } from '../shared/DateFields.js';

const LOCAL = "yyyy-MM-dd'T'HH:mm";

/** What sits before the meter on this circuit, and since when; to be set from any past instant on. */
export function SensingPanel({ node, points }: { node: InstallationNode; points: Point[] }) {
  const { zone } = usePeriod();
  const sensed = sensedOf(points.filter((p) => p.nodeId === node.id));
  const { data: versions = [] } = useSensing(sensed[0]?.id ?? null);
  const [open, setOpen] = useState(false);
  const { say, attempt } = useNotices();
  if (sensed.length === 0) return null;
  const [now] = versions;
  const takeBack = (version: SensingVersion) =>
    void attempt(async () => {
      // All values of the circuit were set together.
      const all = await Promise.all(sensed.map((p) => api<SensingVersion[]>(`/sensing?point=${p.id}`)));
      const same = all.flat().filter((v) => v.validFrom === version.validFrom);
      await api(`/sensing/${same.map((v) => v.id).join(',')}`, 'DELETE');
      say('Taken back.');
    });
  return (
    <section aria-label="Transducer">
      <h2>Transducer</h2>
      <p>
        {now ? sensingInWords(now) : 'Read as the device gives it: one turn, arrow to the load.'}
        {now && <span className="muted"> since {siteClock(zone, now.validFrom, 'd LLL yyyy HH:mm')}</span>}
      </p>
      {now && <SensingFigures node={node} points={points} sensing={now} />}
      <Button onClick={() => setOpen(true)}>Change…</Button>
      {now && <Button onClick={() => takeBack(now)}>Take back</Button>}
      {open && (
        <SensingDialog
          before={now ?? PLAIN_SENSING}
          pointIds={sensed.map((p) => p.id)}
          voltageIds={points
            .filter((p) => p.nodeId === node.id && p.definition.quantity === 'voltage')
            .map((p) => p.id)}
          zone={zone}
          onClose={() => setOpen(false)}
        />
      )}
    </section>
  );
}

function SensingDialog({
  before,
  pointIds,
  voltageIds,
  zone,
  onClose,
}: {
  before: Sensing;
  pointIds: number[];
  voltageIds: number[];
  zone: string;
  onClose: () => void;
}) {
  const { say } = useNotices();
  const [from, setFrom] = useState(siteClock(zone, serverNow(), LOCAL));
  const [reversed, setReversed] = useState(before.reversed);
  const [kind, setKind] = useState(before.kind);
  const form = useProblemForm(
    SensingInput,
    {
      pointIds,
      validFrom: 0,
      ratio: before.ratio,
      turns: before.turns,
      reversed: before.reversed,
      burden: before.burden ?? undefined,
      nominalVoltage: before.nominalVoltage ?? undefined,
      kind: before.kind ?? undefined,
      ratedCurrent: before.ratedCurrent ?? undefined,
      accuracyClass: before.accuracyClass ?? undefined,
      signal: before.signal ?? undefined,
    } as SensingInput,
    async (typed) => {
      const made = await api<SensingVersion[]>('/sensing', 'POST', {
        ...typed,
        kind,
        signal: kind === 'hall' ? (typed.signal ?? null) : null,
        pointIds: kind === 'voltage-transformer' ? voltageIds : pointIds,
        reversed,
        validFrom: Math.min(fromSiteClock(zone, from), serverNow()),
      });
      say('The readings follow from then on.', () =>
        api(`/sensing/${made.map((v) => v.id).join(',')}`, 'DELETE'),
      );
      onClose();
    },
  );
  return (
    <FormDialog title="Transducer" verb="Save" onClose={onClose} {...form.dialog}>
      <TextField
        select
        label="What it is"
        value={kind ?? 'none'}
        onChange={(e) => setKind(e.target.value === 'none' ? null : (e.target.value as Transducer))}
      >
        <MenuItem value="none">not stated</MenuItem>
        {TRANSDUCERS.filter((t) => t !== 'voltage-transformer' || voltageIds.length > 0).map((t) => (
          <MenuItem key={t} value={t}>
            {TRANSDUCER_WORDS[t]}
          </MenuItem>
        ))}
      </TextField>
      {kind !== 'voltage-transformer' && (
        <TextField label="Rated current, A" inputMode="decimal" {...form.text('ratedCurrent', true)} />
      )}
      {(kind === 'current-transformer' || kind === 'voltage-clamp') && (
        <Choice
          control={form.control}
          name="accuracyClass"
          label="Class"
          options={[
            { value: null, label: 'not known' },
            ...ACCURACY_CLASSES.map((c) => ({ value: c, label: c })),
          ]}
        />
      )}
      {kind === 'hall' && (
        <Choice
          control={form.control}
          name="signal"
          label="Signal"
          options={[
            { value: null, label: 'none, the device gives amperes' },
            ...HALL_SIGNALS.map((s) => ({ value: s, label: SIGNAL_WORDS[s] })),
          ]}
        />
      )}
      <TextField label="Turns through it" inputMode="numeric" {...form.text('turns', true)} />
      <TextField label={RATIO_WORDS[kind ?? 'none']} inputMode="decimal" {...form.text('ratio', true)} />
      <TextField
        label="Burden, Ω (where the device gives volts)"
        inputMode="decimal"
        {...form.text('burden', true)}
      />
      <FormControlLabel
        control={<Checkbox checked={reversed} onChange={(e) => setReversed(e.target.checked)} />}
        label="The arrow points away from the load"
      />
      <InstantField
        label="From"
        value={from}
        onChange={setFrom}
        helperText={`The site’s time (${zone}). Readings from then on are shown accordingly; the stored raw readings do not change.`}
      />
    </FormDialog>
  );
}
