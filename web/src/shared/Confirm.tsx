import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import type { ReactNode } from 'react';

/** Says what will happen before it does, and names it in the button. What Enter presses first changes nothing. */
export function Confirm({
  title,
  verb,
  danger,
  onConfirm,
  onClose,
  children,
}: {
  title: string;
  verb: string;
  danger?: boolean;
  onConfirm: () => void;
  onClose: () => void;
  children: ReactNode;
}) {
  return (
    <Dialog open onClose={onClose} maxWidth="xs" fullWidth>
      <DialogTitle>{title}</DialogTitle>
      <DialogContent>{children}</DialogContent>
      <DialogActions>
        <Button onClick={onClose} autoFocus>
          Cancel
        </Button>
        <Button
          variant="contained"
          color={danger ? 'error' : 'primary'}
          onClick={() => {
            onClose();
            onConfirm();
          }}
        >
          {verb}
        </Button>
      </DialogActions>
    </Dialog>
  );
}
