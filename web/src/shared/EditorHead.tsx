import Button from '@mui/material/Button';
import type { ReactNode } from 'react';
import styles from './EditorHead.module.css';
import { NameField } from './NameField.js';
import { Saved } from './Saved.js';
import type { Edited, SaveState } from './useAutosave.js';
import type { Draft } from './useDraft.js';

/** The head of something that is drawn and kept as one goes: its name, how far it is kept, undo and redo, and what more there is. */
export function EditorHead<C>({
  draft: { now, change, undo, redo, canUndo, canRedo },
  label,
  state,
  zone,
  onDone,
  children,
}: {
  draft: Draft<Edited<C>>;
  /** What the name is of. */
  label: string;
  state: SaveState<C>;
  zone: string;
  onDone: () => void;
  children?: ReactNode;
}) {
  return (
    <div className={styles.head}>
      <NameField
        value={now.name}
        label={label}
        className={styles.name ?? ''}
        onChange={(name) => name.trim() !== '' && change({ ...now, name: name.trim() })}
      />
      <Saved state={state} zone={zone} />
      <span className={styles.space} />
      <Button variant="outlined" onClick={undo} disabled={!canUndo}>
        Undo
      </Button>
      <Button variant="outlined" onClick={redo} disabled={!canRedo}>
        Redo
      </Button>
      {children}
      <Button variant="contained" onClick={onDone}>
        Done
      </Button>
    </div>
  );
}
