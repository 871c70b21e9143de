import type { CommandDone } from '@loka/contract/commands';
import type { Point } from '@loka/contract/points';
import { canBeSent, isReadable, nameOfState } from '@loka/core/points';
import { quantityInfo } from '@loka/core/quantities';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useState } from 'react';
import { api } from '../api/client.js';
import { exact } from '../settings/settingInWords.js';
import { Reading } from '../shared/Reading.js';
import { typedNumber } from '../shared/typedNumber.js';
import { useSubmit } from '../shared/useSubmit.js';
import styles from './Command.module.css';

/** What somebody sends to a device: always the same, or a value that is typed. Says what came back. */
export function Command({ point }: { point: Point }) {
  const [asking, setAsking] = useState(false);
  const [done, setDone] = useState<CommandDone | null>(null);
  const { send, access } = point.definition;
  if (!canBeSent(point.definition))
    return <span className="muted">{access === 'write' ? 'only written' : ''}</span>;
  return (
    <span className={styles.command}>
      <Button onClick={() => setAsking(true)}>{send === undefined ? 'Write …' : `Send ${send}`}</Button>
      {done && !asking && <Back done={done} point={point} brief />}
      {asking && <Asking point={point} done={done} onDone={setDone} onClose={() => setAsking(false)} />}
    </span>
  );
}

/** A value of the point in words. */
function inWords(value: number, { definition }: Point): string {
  const { unit } = quantityInfo(definition.quantity);
  return nameOfState(definition, value) ?? `${exact(value)}${unit && ` ${unit}`}`;
}

/** What was sent, and what the device gives back. */
const Back = ({
  done: { sent, back, unread },
  point,
  brief = false,
}: {
  done: CommandDone;
  point: Point;
  brief?: boolean;
}) => (
  <span
    role="status"
    className={back !== null && back !== sent && point.definition.send === undefined ? 'warn' : ''}
  >
    {inWords(sent, point)} {brief ? 'sent' : 'was sent and accepted'}
    {back !== null ? `; ${brief ? '' : 'it now '}reads ${inWords(back, point)}` : brief ? '' : `; ${unread}`}
    {brief || back !== null ? '.' : ''}
  </span>
);

function Asking({
  point,
  done,
  onDone,
  onClose,
}: {
  point: Point;
  done: CommandDone | null;
  onDone: (done: CommandDone | null) => void;
  onClose: () => void;
}) {
  const { name, names, send, quantity } = point.definition;
  const [text, setText] = useState('');
  const [tried, setTried] = useState(false);
  const value = typedNumber(text);
  const wrong = value === null || !Number.isFinite(value);
  const { busy, problem, dialog } = useSubmit(async () => {
    setTried(true);
    onDone(null);
    if (send === undefined && wrong) return;
    onDone(
      await api<CommandDone>(`/points/${point.id}/send`, 'POST', send === undefined ? { value } : undefined),
    );
  });
  return (
    <Dialog open onClose={onClose} maxWidth="xs" fullWidth>
      <form onSubmit={dialog.onSubmit} noValidate>
        <DialogTitle>{send === undefined ? name : `${name}?`}</DialogTitle>
        <DialogContent className={styles.asking ?? ''}>
          {send === undefined ? (
            <label className={styles.field}>
              New value{' '}
              {names ? (
                <select className="plain" value={text} onChange={(e) => setText(e.target.value)}>
                  <option value="">choose …</option>
                  {names.map((n) => (
                    <option key={n.value} value={n.value}>
                      {n.name}
                    </option>
                  ))}
                </select>
              ) : (
                <input
                  className="plain"
                  inputMode="decimal"
                  value={text}
                  aria-invalid={tried && wrong}
                  onChange={(e) => setText(e.target.value)}
                />
              )}{' '}
              <span className="unit">{quantityInfo(quantity).unit}</span>
              {isReadable(point.definition) && (
                <span>
                  now <Reading point={point} brief />
                </span>
              )}
            </label>
          ) : null}
          <p>
            This writes {send ?? 'the value'} to {point.deviceName}. It cannot be taken back.
          </p>
          {tried && send === undefined && wrong && (
            <p role="alert" className="danger">
              {names ? 'Choose one of them.' : 'Type a number.'}
            </p>
          )}
          {problem && (
            <p role="alert" className="danger">
              {problem}
            </p>
          )}
          {done && (
            <p>
              <Back done={done} point={point} />
            </p>
          )}
        </DialogContent>
        <DialogActions>
          <Button onClick={onClose}>{done ? 'Close' : 'Cancel'}</Button>
          <Button type="submit" variant="contained" disabled={busy}>
            {send === undefined ? 'Write it' : name}
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  );
}
