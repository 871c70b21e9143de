import type { RegisterMap } from '@loka/contract/registers';
import { siteClock } from '@loka/core/time';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { mutate } from 'swr';
import { api } from '../api/client.js';
import { useMapVersions } from '../api/useApi.js';
import { useNotices } from '../shared/notices.js';
import { usePeriod } from '../shared/period.js';
import { PlainTable } from '../shared/PlainTable.js';

/** Earlier states of a map; one of them can be made the newest again. */
export function VersionsDialog({
  map,
  onClose,
  onRestored,
}: {
  map: RegisterMap;
  onClose: () => void;
  /** The editor has to start again with what is in force now. */
  onRestored: (map: RegisterMap) => void;
}) {
  const { data = [] } = useMapVersions(map.id);
  const { attempt, say } = useNotices();
  const { zone } = usePeriod();
  const restore = (version: number) =>
    void attempt(async () => {
      const restored = await api<RegisterMap>(`/register-maps/${map.id}/versions/${version}/restore`, 'POST');
      await mutate(() => true);
      onClose();
      onRestored(restored);
      say(`Version ${version} is in force again, as version ${map.version + 1}.`, () =>
        api(`/register-maps/${map.id}/versions/${map.version}/restore`, 'POST'),
      );
    });
  return (
    <Dialog open onClose={onClose} maxWidth="sm" fullWidth>
      <DialogTitle>Versions of {map.name}</DialogTitle>
      <DialogContent>
        {data.length === 0 ? (
          <p className="muted">
            It has not been changed since it came with Loka; this is version {map.version}.
          </p>
        ) : (
          <PlainTable head={['Version', 'Saved', 'Values#', '']}>
            {data.map((v) => (
              <tr key={v.version}>
                <td>
                  {v.version}
                  {v.version === map.version && <span className="muted"> in force</span>}
                </td>
                <td className="measured">{siteClock(zone, v.at, 'd LLL yyyy HH:mm')}</td>
                <td className="number">{v.values}</td>
                <td>
                  {v.version !== map.version && (
                    <Button onClick={() => restore(v.version)}>Make this the newest</Button>
                  )}
                </td>
              </tr>
            ))}
          </PlainTable>
        )}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Close</Button>
      </DialogActions>
    </Dialog>
  );
}
