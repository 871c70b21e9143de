import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { mutate } from 'swr';
import { api, ApiError } from '../api/client.js';
import { FormDialog } from '../shared/FormDialog.js';
import { useSubmit } from '../shared/useSubmit.js';
import { useNotices } from '../shared/notices.js';

/** Makes a register map from a CSV or JSON file; what is wrong with it is listed by line. */
export function ImportMapDialog({ onClose }: { onClose: () => void }) {
  const [file, setFile] = useState<{ format: 'csv' | 'json'; text: string } | null>(null);
  const [name, setName] = useState('');
  const [faults, setFaults] = useState<{ field: string; message: string }[]>([]);
  const { say } = useNotices();

  const open = async (chosen: File | undefined) => {
    setFaults([]);
    forget();
    if (!chosen) return setFile(null);
    setFile({
      format: chosen.name.toLowerCase().endsWith('.json') ? 'json' : 'csv',
      text: await chosen.text(),
    });
    setName((before) => before || chosen.name.replace(/\.(csv|json)$/i, ''));
  };
  const { forget, dialog } = useSubmit(async () => {
    setFaults([]);
    if (!file) throw new Error('Choose a file first.');
    try {
      await api('/register-maps/import', 'POST', { ...file, name });
    } catch (error) {
      setFaults(error instanceof ApiError ? (error.problem.errors ?? []) : []);
      throw error;
    }
    await mutate('/register-maps');
    say('The map was imported.');
    onClose();
  });
  return (
    <FormDialog title="Import a register map" verb="Import" {...dialog} onClose={onClose}>
      <p>
        <label>
          CSV or JSON file{' '}
          <input
            type="file"
            accept=".csv,.json,text/csv,application/json"
            onChange={(e) => void open(e.target.files?.[0])}
          />
        </label>
      </p>
      {file?.format !== 'json' && (
        <TextField
          label="Name of the map"
          value={name}
          onChange={(e) => setName(e.target.value)}
          helperText=" "
        />
      )}
      {faults.length > 1 && (
        <ul
          aria-label="What is wrong"
          style={{ maxHeight: 220, overflow: 'auto', margin: 0, paddingLeft: 18 }}
        >
          {faults.map((fault) => (
            <li key={fault.field + fault.message}>
              {fault.field}: {fault.message}
            </li>
          ))}
        </ul>
      )}
    </FormDialog>
  );
}
