import type { Switch } from '@loka/contract/control';
import { printAge } from '@loka/core/formats';
import Button from '@mui/material/Button';
import { useState } from 'react';
import { mutate } from 'swr';
import { api } from '../api/client.js';
import { useCutOffRules } from '../api/useApi.js';
import { useNow } from '../api/clock.js';
import { Confirm } from '../shared/Confirm.js';
import { useNotices } from '../shared/notices.js';
import { SwitchSymbol } from './SwitchSymbol.js';
import styles from './SwitchPanel.module.css';

const stateWords = (closed: boolean | null): string =>
  closed === null ? 'not known' : closed ? 'closed' : 'open';

/** A switch: what was commanded, what is read back, and the button. The two are never mixed up. */
export function SwitchPanel({ entity }: { entity: Switch }) {
  const [asking, setAsking] = useState(false);
  const { attempt } = useNotices();
  const { data: rules } = useCutOffRules();
  const now = useNow(1000);
  const tripped = rules?.find((r) => r.switchId === entity.id && r.tripped);
  const target = entity.readBack !== true;
  const verb = target ? 'Close' : 'Open';
  const operate = () =>
    void attempt(() =>
      api(`/switches/${entity.id}/operate`, 'POST', { closed: target }).finally(
        () => void mutate('/switches'),
      ),
    );
  const restore = () =>
    void attempt(() =>
      api(`/cut-off-rules/${tripped?.id}/restore`, 'POST', { close: false }).finally(
        () => void mutate('/switches'),
      ),
    );
  return (
    <section className={styles.panel} aria-label={`Switch of ${entity.name}`}>
      <SwitchSymbol closed={entity.readBack} agreement={entity.agreement} wide />
      <dl>
        <div>
          <dt>Commanded</dt>
          <dd>
            {entity.commanded === null ? 'nothing yet' : stateWords(entity.commanded)}
            {entity.commandedAt !== null && (
              <span className="muted"> {printAge(now - entity.commandedAt)} ago</span>
            )}
          </dd>
        </div>
        <div>
          <dt>Reads back</dt>
          <dd>
            {stateWords(entity.readBack)}
            {entity.agreement === 'waiting' && <span className="warn"> waiting for the contact</span>}
            {entity.agreement === 'mismatch' && <span className="danger"> disagrees</span>}
          </dd>
        </div>
      </dl>
      {tripped ? (
        <Button variant="outlined" color="error" onClick={() => setAsking(true)}>
          Restore
        </Button>
      ) : (
        <Button
          variant="outlined"
          onClick={() => setAsking(true)}
          disabled={entity.readBack === null && entity.agreement !== 'mismatch'}
        >
          {verb}
        </Button>
      )}
      {entity.lockout && <p className={styles.lockout}>{entity.lockout}</p>}
      {asking && !tripped && (
        <Confirm
          title={`${verb} “${entity.name}”?`}
          verb={`${verb} ${entity.name}`}
          danger={!target}
          onConfirm={operate}
          onClose={() => setAsking(false)}
        >
          {target ? 'The load gets its supply.' : 'The load loses its supply at once.'}
        </Confirm>
      )}
      {asking && tripped && (
        <Confirm
          title={`Restore “${entity.name}”?`}
          verb={`Restore ${entity.name}`}
          onConfirm={restore}
          onClose={() => setAsking(false)}
        >
          Look at the load first. The lockout ends; the switch stays open until you close it.
        </Confirm>
      )}
    </section>
  );
}
