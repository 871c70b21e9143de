import type { RegisterMap } from '@loka/contract/registers';
import { useState } from 'react';
import { useParams } from 'react-router';
import { useRegisterMaps } from '../api/useApi.js';

/**
 * The map that the address names, for an editor that takes it up once. After an earlier version was made the newest
 * the editor begins anew (`round` is part of its key) with what the server answered, even while the list is older.
 */
export function useEditedMap(): {
  loading: boolean;
  map: RegisterMap | undefined;
  round: number;
  onRestored: (map: RegisterMap) => void;
} {
  const { mapId } = useParams();
  const { data: maps } = useRegisterMaps();
  const [restored, setRestored] = useState<RegisterMap | null>(null);
  const listed = maps?.find((m) => m.id === Number(mapId));
  const newer = restored && restored.id === listed?.id && restored.version > listed.version;
  return {
    loading: maps === undefined,
    map: newer ? restored : listed,
    round: restored && restored.id === listed?.id ? restored.version : 0,
    onRestored: setRestored,
  };
}
