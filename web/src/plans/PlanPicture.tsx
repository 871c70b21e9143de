import type { Picture } from '@loka/contract/pictures';
import { gridFor, type Backdrop, type PlanContent } from '@loka/core/plans';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useState } from 'react';
import { PictureList } from '../pictures/PictureList.js';
import styles from './PlanEditor.module.css';

/** The picture under a plan: chosen or uploaded, how strong it shows, taken away. */
export function PlanPicture({
  content,
  pictures,
  onChange,
}: {
  content: PlanContent;
  pictures: readonly Picture[];
  onChange: (changes: Partial<Pick<PlanContent, 'columns' | 'rows' | 'picture'>>) => void;
}) {
  const [choosing, setChoosing] = useState(false);
  const picture = content.picture ?? null;
  const chosen = pictures.find((p) => p.id === picture?.id);
  const set = (changes: Partial<Backdrop>) => picture && onChange({ picture: { ...picture, ...changes } });
  return (
    <fieldset className={styles.chosen}>
      <legend>Picture under it</legend>
      {picture && (
        <>
          <span>{chosen?.name ?? 'no longer there'}</span>
          <label>
            Strength{' '}
            <input
              type="range"
              min={10}
              max={100}
              step={5}
              value={Math.round(picture.strength * 100)}
              onChange={(e) => set({ strength: Number(e.target.value) / 100 })}
            />
          </label>
          <label>
            <input
              type="checkbox"
              checked={picture.drawing}
              onChange={(e) => set({ drawing: e.target.checked })}
            />{' '}
            dark lines on white: inverted on the dark sheet
          </label>
        </>
      )}
      <span className={styles.verbs}>
        <Button onClick={() => setChoosing(true)}>{picture ? 'Another' : 'Choose a picture'}</Button>
        {picture && <Button onClick={() => onChange({ picture: null })}>Without</Button>}
      </span>
      {choosing && (
        <Dialog open onClose={() => setChoosing(false)} maxWidth="sm" fullWidth>
          <DialogTitle>The picture under the plan</DialogTitle>
          <DialogContent>
            <p className="muted">The grid takes its shape. Rooms can still be drawn on it; none need be.</p>
            <PictureList
              chosen={picture?.id ?? null}
              onPick={({ id, type, width, height }) => {
                onChange({
                  ...gridFor(width, height),
                  picture: { id, strength: 0.6, drawing: type !== 'image/jpeg' },
                });
                setChoosing(false);
              }}
            />
          </DialogContent>
          <DialogActions>
            <Button onClick={() => setChoosing(false)}>Close</Button>
          </DialogActions>
        </Dialog>
      )}
    </fieldset>
  );
}
