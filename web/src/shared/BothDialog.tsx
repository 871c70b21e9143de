import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import type { ReactNode } from 'react';
import styles from './BothDialog.module.css';

/**
 * Two have changed something that is drawn: both are shown, and whoever came second says which it is to be. It is not left
 * by pressing beside it: either way out lets one of them go.
 */
export function BothDialog({
  who,
  mine,
  theirs,
  onMine,
  onTheirs,
}: {
  who: string;
  mine: ReactNode;
  theirs: ReactNode;
  onMine: () => void;
  onTheirs: () => void;
}) {
  return (
    <Dialog open maxWidth="sm" fullWidth>
      <DialogTitle>Someone else has changed it too</DialogTitle>
      <DialogContent>
        <p>{who} has changed this since you opened it. Nothing was overwritten.</p>
        <div className={styles.both}>
          <section aria-label="Yours">
            <h2>Yours</h2>
            {mine}
          </section>
          <section aria-label="There now">
            <h2>There now</h2>
            {theirs}
          </section>
        </div>
      </DialogContent>
      <DialogActions>
        <Button onClick={onTheirs}>Take what is there</Button>
        <Button variant="contained" onClick={onMine}>
          Save mine over it
        </Button>
      </DialogActions>
    </Dialog>
  );
}
