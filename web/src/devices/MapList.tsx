import type { Device } from '@loka/contract/devices';
import type { RegisterMap } from '@loka/contract/registers';
import Button from '@mui/material/Button';
import { useState } from 'react';
import { Link } from 'react-router';
import { editorOf } from '../registers/editorOf.js';
import { ImportMapDialog } from '../registers/ImportMapDialog.js';

/** The register maps that Loka has, and which devices are made from each. */
export function MapList({ maps, devices }: { maps: RegisterMap[]; devices: Device[] }) {
  const [importing, setImporting] = useState(false);
  return (
    <div style={{ marginTop: 22 }}>
      <div style={{ display: 'flex', justifyContent: 'space-between', alignItems: 'baseline' }}>
        <h1>Maps</h1>
        <Button onClick={() => setImporting(true)}>Import a map</Button>
      </div>
      {importing && <ImportMapDialog onClose={() => setImporting(false)} />}
      <ul style={{ listStyle: 'none', margin: '4px 0', padding: 0 }}>
        {maps.map((map) => (
          <li key={map.id} style={{ padding: '3px 0' }}>
            <Link to={editorOf(map)}>{map.name}</Link>
            <span className="muted">
              {' '}
              {map.messages.length === 0 && (
                <a className="target" href={`/api/register-maps/${map.id}/export.csv`}>
                  CSV
                </a>
              )}{' '}
              <a className="target" href={`/api/register-maps/${map.id}/export.json`}>
                JSON
              </a>
            </span>
            <div className="muted">
              {map.deviceIds.length === 0
                ? 'no device'
                : devices
                    .filter((d) => map.deviceIds.includes(d.id))
                    .map((d) => d.name)
                    .join(', ')}
            </div>
          </li>
        ))}
      </ul>
    </div>
  );
}
