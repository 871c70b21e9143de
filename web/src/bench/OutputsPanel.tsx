import type { Switch } from '@loka/contract/control';
import type { InstallationNode } from '@loka/contract/installation';
import type { OutputTrial } from '@loka/contract/outputs';
import { siteClock } from '@loka/core/time';
import Button from '@mui/material/Button';
import { useState } from 'react';
import { mutate } from 'swr';
import { useNow } from '../api/clock.js';
import { api } from '../api/client.js';
import { useOutputs, useSwitches } from '../api/useApi.js';
import { Confirm } from '../shared/Confirm.js';
import { nodeTitle } from '../shared/nodes.js';
import { useNotices } from '../shared/notices.js';
import { usePeriod } from '../shared/period.js';
import { PlainTable } from '../shared/PlainTable.js';
import { CheckMark, VERDICT_WORDS } from '../verify/CheckMark.js';
import styles from './OutputsPanel.module.css';

/** The outputs one by one: each relay is operated briefly after asking, and which circuit moves with it is said. */
export function OutputsPanel({ nodes }: { nodes: InstallationNode[] }) {
  const { data: switches = [] } = useSwitches();
  const { data: trials = [] } = useOutputs();
  const { attempt } = useNotices();
  const [asking, setAsking] = useState<Switch | null>(null);
  if (switches.length === 0) return null;
  const running = trials.find((t) => t.endedAt === null);
  const after = () => mutate('/outputs');
  const begin = (entity: Switch) =>
    void attempt(() => api(`/outputs/${entity.id}/try`, 'POST').finally(() => void after()));
  const stop = () => void attempt(() => api('/outputs/trial', 'DELETE').finally(() => void after()));
  return (
    <section className={styles.panel} aria-label="Outputs">
      <h2>Outputs</h2>
      <p className="muted">
        Each relay is switched for about twelve seconds and put back; the circuit whose power follows is the
        one it switches. Have the load running.
      </p>
      <PlainTable head={['Switch', 'Should switch', 'Tried', 'What moved', '']}>
        {switches.map((entity) => {
          const trial = trials.find((t) => t.switchId === entity.id);
          const node = nodes.find((n) => n.id === entity.nodeId);
          return (
            <tr key={entity.id}>
              <td>{entity.name}</td>
              <td>{node ? nodeTitle(node) : '–'}</td>
              <td className="muted">
                <When trial={trial} />
              </td>
              <td>{trial && <Outcome trial={trial} />}</td>
              <td>
                {trial && trial === running ? (
                  <Button variant="contained" onClick={stop}>
                    Put it back now
                  </Button>
                ) : (
                  <Button
                    variant="outlined"
                    disabled={running !== undefined || entity.readBack === null}
                    onClick={() => setAsking(entity)}
                  >
                    Try it
                  </Button>
                )}
              </td>
            </tr>
          );
        })}
      </PlainTable>
      {asking && (
        <Confirm
          title={`Try ${asking.name}?`}
          verb={`${asking.readBack ? 'Open' : 'Close'} ${asking.name} for 12 s`}
          onClose={() => setAsking(null)}
          onConfirm={() => begin(asking)}
        >
          Its contact is {asking.readBack ? 'opened, and closed again' : 'closed, and opened again'} after
          twelve seconds. What is connected to it {asking.readBack ? 'loses its supply' : 'is switched on'}{' '}
          for that time.
        </Confirm>
      )}
    </section>
  );
}

function When({ trial }: { trial: OutputTrial | undefined }) {
  const { zone } = usePeriod();
  const now = useNow(500);
  if (!trial) return <>never</>;
  if (trial.endedAt !== null)
    return (
      <>
        {siteClock(zone, trial.startedAt, 'd LLL HH:mm')}, {trial.who}
      </>
    );
  const left = trial.backAt === null ? null : Math.max(0, Math.ceil((trial.backAt - now) / 1000));
  return (
    <span role="status">
      {left === null ? 'looking …' : `${trial.closedBefore ? 'open' : 'closed'}, back in ${left} s`}
    </span>
  );
}

function Outcome({ trial: { result, trouble } }: { trial: OutputTrial }) {
  if (!result) return <span className={trouble ? 'warn' : 'muted'}>{trouble}</span>;
  return (
    <span className={styles.outcome}>
      <CheckMark verdict={result.verdict} size={15} />
      <span>
        <strong>{VERDICT_WORDS[result.verdict]}</strong> {result.says}
      </span>
    </span>
  );
}
