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

const verbOf = (closed: boolean): string => (closed ? 'Close' : 'Open');
const stateWords = (closed: boolean | null): string =>
  closed === null ? 'not known' : closed ? 'closed' : 'open';

/** A switch: what was commanded, what is read back, and the button. The two are never mixed up. */
export function SwitchPanel({ entity }: { entity: Switch }) {
  /** What is asked about: closing (true), opening, or restoring. */
  const [asking, setAsking] = useState<boolean | 'restore' | null>(null);
  const { attempt } = useNotices();
  const { data: rules } = useCutOffRules();
  const now = useNow(1000);
  const tripped = rules?.find((r) => r.switchId === entity.id && r.tripped);
  // Of a contact whose state is not known, nobody can say which of the two is the other one.
  const others = entity.readBack === null ? [true, false] : [!entity.readBack];
  const targets = entity.missing === null ? others : [];
  const operate = (closed: boolean) =>
    void attempt(() =>
      api(`/switches/${entity.id}/operate`, 'POST', { closed }).finally(() => void mutate('/switches')),
    );
  const restore = () =>
    void attempt(() =>
      api(`/cut-off-rules/${tripped?.id}/restore`, 'POST', { close: false }).finally(
        () => void mutate('/switches'),
      ),
    );
  return (
    <section className={styles.panel} aria-label={`Switch of ${entity.name}`}>
      <div className={styles.parts}>
        <SwitchSymbol closed={entity.readBack} agreement={entity.agreement} wide />
        <dl>
          <div>
            <dt>Commanded</dt>
            <dd>
              {entity.commanded === null ? 'nothing yet' : stateWords(entity.commanded)}
              {entity.commandedAt !== null && (
                <span className="muted">
                  {' '}
                  {printAge(now - entity.commandedAt)}
                  <span className={styles.ago}> ago</span>
                </span>
              )}
            </dd>
          </div>
          <div>
            <dt>Reads back</dt>
            <dd>
              {entity.missing === null ? stateWords(entity.readBack) : 'nothing'}
              {entity.missing === null && entity.readBack === null && entity.unknownSince !== null && (
                <span className="muted"> for {printAge(now - entity.unknownSince)}</span>
              )}
              {entity.agreement === 'waiting' && <span className="warn"> waiting</span>}
              {entity.agreement === 'mismatch' && <span className="danger"> disagrees</span>}
            </dd>
          </div>
        </dl>
        {entity.lockout !== null ? (
          <span className={styles.verbs}>
            <Button variant="outlined" color="error" disabled={!tripped} onClick={() => setAsking('restore')}>
              Restore
            </Button>
          </span>
        ) : (
          <span className={styles.verbs} data-both={targets.length > 1}>
            {targets.map((closed) => (
              <Button key={String(closed)} variant="outlined" onClick={() => setAsking(closed)}>
                {verbOf(closed)}
              </Button>
            ))}
          </span>
        )}
        {entity.missing !== null && <p className={styles.note}>{entity.missing}.</p>}
        {entity.lockout !== null && <p className={styles.note}>{entity.lockout}</p>}
      </div>
      {typeof asking === 'boolean' && (
        <Confirm
          title={`${verbOf(asking)} “${entity.name}”?`}
          verb={`${verbOf(asking)} ${entity.name}`}
          danger={!asking}
          onConfirm={() => operate(asking)}
          onClose={() => setAsking(null)}
        >
          {asking ? 'The load gets its supply.' : 'The load loses its supply at once.'}
        </Confirm>
      )}
      {asking === 'restore' && (
        <Confirm
          title={`Restore “${entity.name}”?`}
          verb={`Restore ${entity.name}`}
          onConfirm={restore}
          onClose={() => setAsking(null)}
        >
          Look at the load first. The lockout ends; the switch stays open until you close it.
        </Confirm>
      )}
    </section>
  );
}
