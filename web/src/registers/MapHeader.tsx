import type { RegisterMap } from '@loka/contract/registers';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { Link, useNavigate } from 'react-router';
import { mutate } from 'swr';
import { api } from '../api/client.js';
import { useNotices } from '../shared/notices.js';
import { DONE, useUnsaved } from '../shared/unsaved.js';
import type { Draft } from '../shared/useDraft.js';
import { SaveMap, type MapContent } from './SaveMap.js';
import styles from '../points/pointGrid.module.css';

/** Above either map editor: the name, back and forth, remove, versions, save. */
export function MapHeader({
  label,
  map,
  content,
  draft,
  faulty,
  back,
  onName,
  onRestored,
}: {
  label: string;
  map: RegisterMap;
  content: MapContent;
  draft: Pick<Draft<unknown>, 'undo' | 'redo' | 'canUndo' | 'canRedo' | 'dirty'>;
  /** Whether the values hold something that must not be saved. */
  faulty: boolean;
  back: string;
  onName: (name: string) => void;
  onRestored: (map: RegisterMap) => void;
}) {
  const navigate = useNavigate();
  const { attempt, say } = useNotices();
  useUnsaved(draft.dirty || content.name !== map.name ? `the changes to “${map.name}”` : null);
  const nameless = content.name.trim() === '';
  const remove = () =>
    attempt(async () => {
      await api(`/register-maps/${map.id}`, 'DELETE');
      void navigate('/field', { state: DONE });
      await mutate('/register-maps');
      const { name, description, points, messages, availability } = map;
      say(`“${name}” was removed.`, () =>
        api('/register-maps', 'POST', { name, description, points, messages, availability }),
      );
    });
  return (
    <div className={styles.title}>
      <TextField
        label={label}
        value={content.name}
        onChange={(e) => onName(e.target.value)}
        sx={{ maxWidth: 360 }}
        error={nameless}
      />
      <span className={styles.space} />
      <Button onClick={draft.undo} disabled={!draft.canUndo}>
        Undo
      </Button>
      <Button onClick={draft.redo} disabled={!draft.canRedo}>
        Redo
      </Button>
      <Button component={Link} to={back}>
        {draft.dirty || content.name !== map.name ? 'Discard' : 'Back'}
      </Button>
      {map.deviceIds.length === 0 && (
        <Button color="error" onClick={() => void remove()}>
          Remove
        </Button>
      )}
      <SaveMap
        map={map}
        content={content}
        disabled={faulty || nameless}
        onRestored={onRestored}
        onSaved={() => void navigate(back, { state: DONE })}
      />
    </div>
  );
}
