import Alert from '@mui/material/Alert';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useState, type CSSProperties, type FormEventHandler, type ReactNode } from 'react';
import { ChangedMeanwhile, type Conflict } from './ChangedMeanwhile.js';
import { Confirm } from './Confirm.js';
import { useUnsaved, type Survives } from './unsaved.js';

/** The fields scroll when there are many; title and verb stay in sight. */
const FORM: CSSProperties = { display: 'flex', flexDirection: 'column', minHeight: 0 };

/** A dialog is closed by going anywhere. */
const nowhere: Survives = () => false;

/** A form in a dialog: its fields, the problem that belongs to none of them, and its verb. */
export function FormDialog(props: {
  title: string;
  verb: string;
  onSubmit: FormEventHandler;
  onClose: () => void;
  busy?: boolean;
  problem?: string | null;
  /** Whether it holds what is not saved: closing it asks first. */
  dirty?: boolean;
  conflict?: Conflict | null;
  extra?: ReactNode;
  wide?: boolean;
  children: ReactNode;
}) {
  const { title, verb, onSubmit, onClose, busy, problem, dirty, conflict, extra, wide, children } = props;
  // Forms that keep their fields themselves: something was typed, at least.
  const [typed, setTyped] = useState(false);
  const [asking, setAsking] = useState(false);
  const unsaved = (dirty ?? typed) && !busy;
  useUnsaved(unsaved ? title : null, nowhere);
  const close = () => (unsaved ? setAsking(true) : onClose());
  return (
    <Dialog open onClose={close} maxWidth={wide ? 'md' : 'xs'} fullWidth>
      <form onSubmit={onSubmit} onInput={() => setTyped(true)} noValidate style={FORM}>
        <DialogTitle>{title}</DialogTitle>
        <DialogContent sx={{ display: 'grid', gap: 1, pt: '10px !important' }}>
          {conflict && <ChangedMeanwhile {...conflict} />}
          {children}
          {problem && (
            <Alert severity="error" variant="outlined">
              {problem}
            </Alert>
          )}
        </DialogContent>
        <DialogActions>
          {extra}
          <span style={{ flex: 1 }} />
          <Button onClick={close}>Cancel</Button>
          <Button type="submit" variant="contained" disabled={busy}>
            {verb}
          </Button>
        </DialogActions>
      </form>
      {asking && (
        <Confirm
          title="Close without saving?"
          verb="Discard"
          danger
          onConfirm={onClose}
          onClose={() => setAsking(false)}
        >
          What you typed in “{title}” is not saved.
        </Confirm>
      )}
    </Dialog>
  );
}
