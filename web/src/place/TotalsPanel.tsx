import type { InstallationNode } from '@loka/contract/installation';
import type { Site } from '@loka/contract/site';
import type { RunningTotal, TotalKind } from '@loka/contract/totals';
import { siteClock } from '@loka/core/time';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { mutate } from 'swr';
import { api } from '../api/client.js';
import { useTotals } from '../api/useApi.js';
import { FormDialog } from '../shared/FormDialog.js';
import { Measured } from '../shared/Measured.js';
import { durationInWords } from '../shared/duration.js';
import { money } from '../shared/money.js';
import { usePeriod } from '../shared/period.js';
import { useSubmit } from '../shared/useSubmit.js';
import { grams } from './EnergyFigures.js';

const WORDS: Record<TotalKind, string> = { energy: 'Energy', 'run-time': 'Run time' };

/** What runs on until a person clears it: energy with its cost and CO₂, and run time, each by itself. */
export function TotalsPanel({ node, site }: { node: InstallationNode; site: Site | null }) {
  const { data = [] } = useTotals(node.id);
  const { zone } = usePeriod();
  const [clearing, setClearing] = useState<TotalKind | null>(null);
  const at = (t: number) => siteClock(zone, t, 'd LLL yyyy HH:mm');
  return (
    <section aria-label="Running totals">
      <h2>Running totals</h2>
      {data.map((total) => (
        <div key={total.kind} style={{ borderBottom: '1px solid var(--rule)', padding: '4px 0' }}>
          <div style={{ display: 'flex', alignItems: 'baseline', gap: 8 }}>
            <span>{WORDS[total.kind]}</span>
            <span style={{ flex: 1 }} />
            <Value total={total} site={site} />
          </div>
          <p className="muted" style={{ margin: 0 }}>
            {total.since === null ? 'nothing read yet' : `since ${at(total.since)}`}
            {total.known < 0.99 &&
              total.value !== null &&
              `, known for ${Math.floor(100 * total.known)} %`}{' '}
            <Button size="small" onClick={() => setClearing(total.kind)}>
              Clear…
            </Button>
          </p>
          {total.clearings.length > 0 && (
            <details>
              <summary className="muted">Cleared {total.clearings.length} times</summary>
              <ul style={{ margin: 0, paddingLeft: 16 }}>
                {total.clearings.map((c) => (
                  <li key={c.id}>
                    {at(c.at)}, {c.who}: stood at{' '}
                    {c.stood === null ? (
                      'nothing known'
                    ) : c.kind === 'energy' ? (
                      <Measured value={c.stood} unit="Wh" />
                    ) : (
                      durationInWords(c.stood)
                    )}
                  </li>
                ))}
              </ul>
            </details>
          )}
        </div>
      ))}
      {clearing && <ClearDialog node={node} kind={clearing} onClose={() => setClearing(null)} />}
    </section>
  );
}

function Value({ total, site }: { total: RunningTotal; site: Site | null }) {
  if (total.value === null) return <span className="muted">–</span>;
  if (total.kind === 'run-time')
    return (
      <span className="measured">
        {durationInWords(total.value)}
        {total.starts !== null && <span className="unit"> {total.starts} starts</span>}
      </span>
    );
  const kwh = total.value / 1000;
  return (
    <span>
      <Measured value={total.value} unit="Wh" />
      <span className="muted">
        {site?.price != null && ` ${money(kwh * site.price, site)}`}
        {site?.carbon != null && ` ${grams(kwh * site.carbon)}`}
      </span>
    </span>
  );
}

/** Begins a total again, after its place's name has been typed. */
function ClearDialog({
  node,
  kind,
  onClose,
}: {
  node: InstallationNode;
  kind: TotalKind;
  onClose: () => void;
}) {
  const [name, setName] = useState('');
  const { dialog } = useSubmit(async () => {
    await api('/totals/clear', 'POST', { nodeId: node.id, kind, name });
    await mutate(`/totals?node=${node.id}`);
    onClose();
  });
  return (
    <FormDialog
      title={`Clear the ${WORDS[kind].toLowerCase()} of ${node.name}?`}
      verb="Clear"
      {...dialog}
      onClose={onClose}
      dirty={false}
    >
      <p>
        It starts again from zero. Readings and all other figures stay; its last value is kept, with the time
        and who reset it.
      </p>
      <TextField
        label={`Type the name: ${node.name}`}
        value={name}
        onChange={(e) => setName(e.target.value)}
        autoFocus
      />
    </FormDialog>
  );
}
