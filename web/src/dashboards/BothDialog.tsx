import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import type { Edited } from '../shared/useAutosave.js';
import type { DashboardContent } from '@loka/core/dashboards';
import { useFacts } from './facts.js';
import { Sketch } from './Sketch.js';
import { titleOf } from './shown.js';
import styles from './BothDialog.module.css';

/** Two have changed a dashboard: both are shown, and whoever came second says which it is to be. The other stays among the earlier ones, or can be undone. */
export function BothDialog({
  mine,
  theirs,
  onMine,
  onTheirs,
}: {
  mine: Edited<DashboardContent>;
  theirs: Edited<DashboardContent> & { who: string };
  onMine: () => void;
  onTheirs: () => void;
}) {
  const side = (words: string, { name, content }: Edited<DashboardContent>) => (
    <section aria-label={words}>
      <h2>{words}</h2>
      <p>{name}</p>
      <Sketch elements={content.elements} />
      <p className="muted">{content.elements.length} elements</p>
      <Different of={content} than={words === 'Yours' ? theirs.content : mine.content} />
    </section>
  );
  return (
    <Dialog open maxWidth="sm" fullWidth>
      <DialogTitle>Somebody has changed it too</DialogTitle>
      <DialogContent>
        <p>{theirs.who} has changed this dashboard since you opened it. Nothing was overwritten.</p>
        <div className={styles.both}>
          {side('Yours', mine)}
          {side('There now', theirs)}
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

/** What one side has that the other has not, or has otherwise. */
function Different({ of, than }: { of: DashboardContent; than: DashboardContent }) {
  const facts = useFacts();
  const other = new Map(than.elements.map((e) => [e.id, JSON.stringify(e)]));
  const different = of.elements.filter((e) => other.get(e.id) !== JSON.stringify(e));
  if (different.length === 0) return null;
  return (
    <ul className={styles.different}>
      {different.map((e) => (
        <li key={e.id}>
          {titleOf(e, facts) || 'Text'}
          <span className="muted">{other.has(e.id) ? ' otherwise' : ' only here'}</span>
        </li>
      ))}
    </ul>
  );
}
