import Alert from '@mui/material/Alert';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import type { CSSProperties, FormEventHandler, ReactNode } from 'react';

/** The fields scroll when there are many; title and verb stay in sight. */
const FORM: CSSProperties = { display: 'flex', flexDirection: 'column', minHeight: 0 };

/** A form in a dialog: its fields, the problem that belongs to none of them, and its verb. */
export function FormDialog(props: {
  title: string;
  verb: string;
  onSubmit: FormEventHandler;
  onClose: () => void;
  busy?: boolean;
  problem?: string | null;
  extra?: ReactNode;
  wide?: boolean;
  children: ReactNode;
}) {
  const { title, verb, onSubmit, onClose, busy, problem, extra, wide, children } = props;
  return (
    <Dialog open onClose={onClose} maxWidth={wide ? 'md' : 'xs'} fullWidth>
      <form onSubmit={onSubmit} noValidate style={FORM}>
        <DialogTitle>{title}</DialogTitle>
        <DialogContent sx={{ display: 'grid', gap: 1, pt: '10px !important' }}>
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
          <Button onClick={onClose}>Cancel</Button>
          <Button type="submit" variant="contained" disabled={busy}>
            {verb}
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  );
}
