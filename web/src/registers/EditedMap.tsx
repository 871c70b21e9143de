import type { RegisterMap } from '@loka/contract/registers';
import { useState, type ComponentType } from 'react';
import { Link, useParams } from 'react-router';
import { useRegisterMaps } from '../api/useApi.js';
import { EmptyState, LoadingState } from '../shared/states.js';

/** What the editor of a map is given. */
export interface MapEditorProps {
  map: RegisterMap;
  /** An earlier version was made the newest; this is what the server answered. */
  onRestored: (map: RegisterMap) => void;
}

/**
 * The map that the address names, in an editor that takes it up once. After an earlier version was made the newest the
 * editor starts again with what the server answered, even while the list is older.
 */
export function EditedMap({ editor: Editor }: { editor: ComponentType<MapEditorProps> }) {
  const { mapId } = useParams();
  const { data: maps } = useRegisterMaps();
  const [restored, setRestored] = useState<RegisterMap | null>(null);
  const listed = maps?.find((m) => m.id === Number(mapId));
  if (maps === undefined) return <LoadingState />;
  if (!listed)
    return (
      <EmptyState title="There is no such map" action={<Link to="/field">To the links and maps</Link>} />
    );
  const own = restored?.id === listed.id ? restored : null;
  const map = own && own.version > listed.version ? own : listed;
  return <Editor key={`${map.id}/${own?.version ?? 0}`} map={map} onRestored={setRestored} />;
}
