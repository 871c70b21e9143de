import type { Dashboard } from '@loka/contract/dashboards';
import type { ReadyDashboard } from '@loka/core/dashboards';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useState } from 'react';
import { copyText } from '../shared/copyText.js';
import { useNotices } from '../shared/notices.js';
import { addressOf } from './wall.js';
import styles from './WallDialog.module.css';
import { ClockField } from '../shared/DateFields.js';

/** What a wall shows in turn, for how long, and when it is dimmed: an address that the screen on the wall opens. */
export function WallDialog({
  first,
  made,
  ready,
  onClose,
}: {
  /** Shown in any case, and first. */
  first: string;
  made: readonly Dashboard[];
  ready: readonly ReadyDashboard[];
  onClose: () => void;
}) {
  const [show, setShow] = useState<string[]>([first]);
  const [every, setEvery] = useState('20');
  const [dims, setDims] = useState(false);
  const [dim, setDim] = useState<[string, string]>(['22:00', '06:00']);
  const { attempt, say } = useNotices();
  const seconds = Number(every);
  const holds = Number.isFinite(seconds) && seconds >= 5;
  const address = addressOf({ show, every: holds ? seconds : 20, dim: dims ? dim : null });
  const choices = [
    ...made.map((d) => ({ key: String(d.id), name: d.name })),
    ...ready
      .filter((d) => !d.key.startsWith('load-'))
      .map((d) => ({ key: d.key, name: `${d.name} (ready made)` })),
  ];
  const toggle = (key: string) =>
    setShow((before) => (before.includes(key) ? before.filter((k) => k !== key) : [...before, key]));
  return (
    <Dialog open onClose={onClose} maxWidth="xs" fullWidth>
      <DialogTitle>On a wall</DialogTitle>
      <DialogContent>
        <fieldset className={styles.choices}>
          <legend>In turn</legend>
          {choices.map(({ key, name }) => (
            <label key={key}>
              <input
                type="checkbox"
                checked={show.includes(key)}
                disabled={show.length === 1 && show[0] === key}
                onChange={() => toggle(key)}
              />{' '}
              {name}
              {show.length > 1 && show.includes(key) && (
                <span className="muted"> {show.indexOf(key) + 1}.</span>
              )}
            </label>
          ))}
        </fieldset>
        <p>
          <label>
            Each for{' '}
            <input
              className="plain"
              style={{ width: 70 }}
              inputMode="numeric"
              value={every}
              aria-invalid={!holds}
              onChange={(e) => setEvery(e.target.value)}
            />{' '}
            s
          </label>
          {!holds && <span className="danger"> at least 5 s</span>}
        </p>
        <div className={styles.dims}>
          <label>
            <input type="checkbox" checked={dims} onChange={(e) => setDims(e.target.checked)} /> Dimmed
          </label>
          <ClockField label="From" disabled={!dims} value={dim[0]} onChange={(at) => setDim([at, dim[1]])} />
          <ClockField label="Until" disabled={!dims} value={dim[1]} onChange={(at) => setDim([dim[0], at])} />
        </div>
        <p className="muted">
          Open this address on the screen on the wall, full screen (F11). Nothing has to be pressed there,
          even after Loka restarts.
        </p>
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Close</Button>
        <Button
          onClick={() =>
            void attempt(async () => {
              await copyText(new URL(address, location.href).href);
              say('The address is copied.');
            })
          }
        >
          Copy the address
        </Button>
        <Button variant="contained" href={address} target="_blank" rel="noreferrer">
          Open it here
        </Button>
      </DialogActions>
    </Dialog>
  );
}
