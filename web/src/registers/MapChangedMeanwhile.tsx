import type { RegisterMap } from '@loka/contract/registers';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { PlainTable } from '../shared/PlainTable.js';
import { mapChanges, type ComparedMap } from './mapChanges.js';

/** Two have changed a map: value by value what one did and what the other did, and either way out. */
export function MapChangedMeanwhile({
  base,
  mine,
  theirs,
  onKeepMine,
  onTakeTheirs,
  onClose,
}: {
  base: ComparedMap;
  mine: ComparedMap;
  theirs: RegisterMap;
  onKeepMine: () => void;
  onTakeTheirs: () => void;
  onClose: () => void;
}) {
  const own = mapChanges(base, mine);
  const others = mapChanges(base, theirs);
  const names = [...new Set([...own.keys(), ...others.keys()])].sort((a, b) => a.localeCompare(b));
  return (
    <Dialog open onClose={onClose} maxWidth="sm" fullWidth>
      <DialogTitle>Someone else has saved this map in the meantime</DialogTitle>
      <DialogContent>
        <p>Nothing was overwritten. It is at version {theirs.version} now.</p>
        <PlainTable head={['Value', 'You', 'There now']}>
          {names.map((name) => (
            <tr key={name}>
              <td>{name}</td>
              <td>{own.get(name) ?? '–'}</td>
              <td>{others.get(name) ?? '–'}</td>
            </tr>
          ))}
        </PlainTable>
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose} autoFocus>
          Back to mine
        </Button>
        <span style={{ flex: 1 }} />
        <Button onClick={onTakeTheirs}>Take what is there</Button>
        <Button onClick={onKeepMine}>Save mine over it</Button>
      </DialogActions>
    </Dialog>
  );
}
