import { siteClock } from '@loka/core/time';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useDashboardVersions } from '../api/useApi.js';
import { FailedState, LoadingState } from '../shared/states.js';
import { useFacts } from './facts.js';
import { Sketch } from './Sketch.js';
import styles from './VersionsDialog.module.css';

/** How a dashboard was before; any of them can be made what it is. */
export function VersionsDialog({
  id,
  onRestore,
  onClose,
}: {
  id: number;
  onRestore: (versionId: number) => void;
  onClose: () => void;
}) {
  const { zone } = useFacts();
  const { data, error, mutate } = useDashboardVersions(id);
  return (
    <Dialog open onClose={onClose} maxWidth="sm" fullWidth>
      <DialogTitle>Earlier versions</DialogTitle>
      <DialogContent>
        {error && !data ? (
          <FailedState error={error} retry={() => void mutate()} />
        ) : !data ? (
          <LoadingState />
        ) : data.length === 0 ? (
          <p className="muted">
            It has not been changed yet. How it was is kept every five minutes while it is changed, and before
            an earlier one is taken.
          </p>
        ) : (
          <ul className={styles.list}>
            {data.map((version) => (
              <li key={version.id}>
                <Sketch elements={version.content.elements} />
                <span>
                  <b>{version.name}</b>
                  <span className="muted">
                    {version.content.elements.length} elements, so until{' '}
                    {siteClock(zone, version.until, 'd LLL yyyy HH:mm:ss')}, {version.who}
                  </span>
                </span>
                <Button variant="outlined" onClick={() => onRestore(version.id)}>
                  Take this
                </Button>
              </li>
            ))}
          </ul>
        )}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Close</Button>
      </DialogActions>
    </Dialog>
  );
}
