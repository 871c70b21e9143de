import type { MapImpact, RegisterMap } from '@loka/contract/registers';
import type { Availability, MessageDefinition } from '@loka/core/messages';
import type { PointDefinition } from '@loka/core/registers';
import Button from '@mui/material/Button';
import { useState } from 'react';
import { mutate } from 'swr';
import { api, ApiError } from '../api/client.js';
import { FormDialog } from '../shared/FormDialog.js';
import { useNotices } from '../shared/notices.js';
import { RestsOnIt } from '../shared/RestsOnIt.js';
import { MapChangedMeanwhile } from './MapChangedMeanwhile.js';
import { VersionsDialog } from './VersionsDialog.js';

export interface MapContent {
  name: string;
  description: string;
  points: PointDefinition[];
  messages: MessageDefinition[];
  availability: Availability | null;
}

/** Saves a map. Where devices share it, it first says what changes and whom it touches. */
export function SaveMap({
  map,
  content,
  disabled,
  onSaved,
  onRestored,
}: {
  map: RegisterMap;
  content: MapContent;
  disabled: boolean;
  onSaved: () => void;
  onRestored: (map: RegisterMap) => void;
}) {
  const [impact, setImpact] = useState<MapImpact | null>(null);
  const [versions, setVersions] = useState(false);
  const [busy, setBusy] = useState(false);
  const { attempt, say } = useNotices();
  // The one that the editor began with, or has been told of: the list may be newer, and what it brought was not seen.
  const [base, setBase] = useState(map);
  const [theirs, setTheirs] = useState<RegisterMap | null>(null);
  const save = (version = base.version) =>
    attempt(async () => {
      try {
        await api(`/register-maps/${map.id}`, 'PUT', { ...content, version });
      } catch (error) {
        if (!(error instanceof ApiError && error.problem.now)) throw error;
        return setTheirs(error.problem.now as unknown as RegisterMap);
      }
      await Promise.all([mutate('/register-maps'), mutate('/points'), mutate('/devices')]);
      say('The map was saved.', () => api(`/register-maps/${map.id}/versions/${version}/restore`, 'POST'));
      onSaved();
    });
  const begin = (version = base.version) =>
    void attempt(async () => {
      setBusy(true);
      try {
        const found = await api<MapImpact>(`/register-maps/${map.id}/impact`, 'POST', content);
        const shared = found.devices.length > 1 && found.added.length > 0;
        const touches = shared || found.changed.length + found.removed.length > 0;
        if (found.devices.length > 0 && touches && map.points.length + map.messages.length > 0)
          setImpact(found);
        else await save(version);
      } finally {
        setBusy(false);
      }
    });
  return (
    <>
      <Button onClick={() => setVersions(true)}>Versions</Button>
      <Button variant="contained" disabled={disabled || busy} onClick={() => begin()}>
        Save map
      </Button>
      {impact && (
        <FormDialog
          title="What this changes"
          verb={
            impact.devices.length === 1 ? 'Apply to 1 device' : `Apply to ${impact.devices.length} devices`
          }
          onClose={() => setImpact(null)}
          onSubmit={(event) => {
            event.preventDefault();
            setImpact(null);
            void save();
          }}
        >
          <Line what="New" names={impact.added} />
          <Line what="Changed" names={impact.changed} />
          <Line what="Archived; their readings stay" names={impact.removed} />
          <Line what="Worked out anew from all that was read" names={impact.turned} />
          {impact.dependents.length > 0 && <RestsOnIt dependents={impact.dependents} />}
          <h2>Devices that share the map</h2>
          <ul style={{ margin: 0, paddingLeft: 18 }}>
            {impact.devices.map((d) => (
              <li key={d.id}>
                {d.name}
                {d.circuits.length > 0 && <span className="muted">: {d.circuits.join(', ')}</span>}
              </li>
            ))}
          </ul>
        </FormDialog>
      )}
      {theirs && (
        <MapChangedMeanwhile
          base={base}
          mine={content}
          theirs={theirs}
          onKeepMine={() => {
            setBase(theirs);
            setTheirs(null);
            begin(theirs.version);
          }}
          onTakeTheirs={() => onRestored({ ...theirs, deviceIds: map.deviceIds })}
          onClose={() => setTheirs(null)}
        />
      )}
      {versions && <VersionsDialog map={map} onClose={() => setVersions(false)} onRestored={onRestored} />}
    </>
  );
}

const Line = ({ what, names }: { what: string; names: string[] }) =>
  names.length === 0 ? null : (
    <p>
      <strong>{what}:</strong> {names.join(', ')}
    </p>
  );
