import type { Dashboard } from '@loka/contract/dashboards';
import type { Imported, LineNote } from '@loka/core/dashboards';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { mutate } from 'swr';
import { api } from '../api/client.js';
import { useNotices } from '../shared/notices.js';
import { taken } from './exchange.js';
import { useFacts } from './facts.js';
import { Sketch } from './Sketch.js';
import styles from './ImportDialog.module.css';

/** Told of one file, the first ones. */
const MOST_TOLD = 40;
/** Before it is read at all. */
const LARGEST = 2_000_000;

/** Takes a dashboard from a file: what does not hold in it is told line by line before anything is made. */
export function ImportDialog({ onClose }: { onClose: () => void }) {
  const facts = useFacts();
  const [file, setFile] = useState<{ name: string; got: Imported } | null>(null);
  const { attempt } = useNotices();
  const navigate = useNavigate();
  const read = (chosen: File | undefined) =>
    chosen &&
    void attempt(async () =>
      setFile({
        name: chosen.name,
        got:
          chosen.size > LARGEST
            ? {
                ok: false,
                faults: [
                  { line: 1, says: 'The file is larger than a megabyte; no dashboard is that large.' },
                ],
              }
            : taken(await chosen.text(), facts),
      }),
    );
  const make = (got: Imported & { ok: true }) =>
    void attempt(async () => {
      const { id } = await api<Dashboard>('/dashboards', 'POST', { name: got.name, content: got.content });
      await mutate('/dashboards');
      await navigate(`/dashboards/${id}?edit`);
    });
  const got = file?.got;
  return (
    <Dialog open onClose={onClose} maxWidth="sm" fullWidth>
      <DialogTitle>Import a dashboard</DialogTitle>
      <DialogContent>
        <p className="muted">
          A file that was exported from a dashboard, of this installation or another one. What it shows is
          matched by the names of places.
        </p>
        <input
          type="file"
          accept=".json,application/json"
          aria-label="File with a dashboard"
          onChange={(e) => read(e.target.files?.[0])}
        />
        {got && !got.ok && (
          <Told title={`${file.name} was not accepted:`} notes={got.faults} level="danger" />
        )}
        {got?.ok && (
          <div className={styles.found}>
            <Sketch elements={got.content.elements} />
            <p>
              <b>{got.name}</b>, {got.content.elements.length} elements
            </p>
            {got.notes.length > 0 && (
              <Told
                title="Not here; choose something else for these afterwards:"
                notes={got.notes}
                level="warn"
              />
            )}
          </div>
        )}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Close</Button>
        <Button variant="contained" disabled={!got?.ok} onClick={() => got?.ok && make(got)}>
          Import
        </Button>
      </DialogActions>
    </Dialog>
  );
}

const Told = ({ title, notes, level }: { title: string; notes: LineNote[]; level: 'danger' | 'warn' }) => (
  <div role="alert" className={styles.told}>
    <p className={level}>{title}</p>
    <ul>
      {notes.slice(0, MOST_TOLD).map((note, i) => (
        <li key={i}>
          <span className="measured">line {note.line}</span> {note.says}
        </li>
      ))}
      {notes.length > MOST_TOLD && <li>and {notes.length - MOST_TOLD} more</li>}
    </ul>
  </div>
);
