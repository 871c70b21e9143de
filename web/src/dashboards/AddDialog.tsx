import { ELEMENT_KINDS, KIND_RULES, type ElementKind, type Source } from '@loka/core/dashboards';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useState } from 'react';
import styles from './AddDialog.module.css';
import { KindMark } from './KindMark.js';
import { PickList } from './PickList.js';
import { KIND_WORDS } from './shown.js';

/** One more element: what it is, and what it shows. Of most, one click on what is shown adds it. */
export function AddDialog({
  onAdd,
  onClose,
}: {
  onAdd: (kind: ElementKind, shows: Source[]) => void;
  onClose: () => void;
}) {
  const [kind, setKind] = useState<ElementKind>('number');
  const [several, setSeveral] = useState<Source[]>([]);
  const { most } = KIND_RULES[kind];
  const pick = (source: Source) => {
    if (most === 1) return onAdd(kind, [source]);
    const same = (s: Source) => s.of === source.of && s.id === source.id;
    setSeveral((before) =>
      before.some(same) ? before.filter((s) => !same(s)) : [...before, source].slice(-most),
    );
  };
  return (
    <Dialog open onClose={onClose} maxWidth="md" fullWidth>
      <DialogTitle>Add an element</DialogTitle>
      <DialogContent>
        <div className={styles.both}>
          <div role="radiogroup" aria-label="What it is" className={styles.kinds}>
            {ELEMENT_KINDS.map((k) => (
              <label key={k} className={styles.kind} data-on={k === kind}>
                <input
                  type="radio"
                  name="kind"
                  value={k}
                  checked={k === kind}
                  onChange={() => {
                    setKind(k);
                    setSeveral([]);
                  }}
                />
                <KindMark kind={k} />
                <span>
                  {KIND_WORDS[k].name}
                  <small>{KIND_WORDS[k].says}</small>
                </span>
              </label>
            ))}
          </div>
          {most === 0 ? (
            <p className="muted">Add it, and write below the sheet.</p>
          ) : (
            <PickList kind={kind} chosen={several} onPick={pick} />
          )}
        </div>
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Close</Button>
        {most !== 1 && (
          <Button
            variant="contained"
            disabled={most > 1 && several.length === 0}
            onClick={() => onAdd(kind, several)}
          >
            Add {KIND_WORDS[kind].name.toLowerCase()}
          </Button>
        )}
      </DialogActions>
    </Dialog>
  );
}
