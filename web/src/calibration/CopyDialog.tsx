import type { Calibration } from '@loka/contract/calibration';
import type { Point } from '@loka/contract/points';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { mutate } from 'swr';
import { api } from '../api/client.js';
import { serverNow } from '../api/clock.js';
import { useInstallation } from '../api/useApi.js';
import { FormDialog } from '../shared/FormDialog.js';
import { nodeTitle, pointTitle } from '../shared/nodes.js';
import { useNotices } from '../shared/notices.js';
import { TickList } from '../shared/TickList.js';
import { useSubmit } from '../shared/useSubmit.js';

/** Like devices that take over a correction, marked as copied and not measured. */
export function CopyDialog({
  calibration,
  point,
  alike,
  onClose,
}: {
  calibration: Calibration;
  point: Point;
  alike: Point[];
  onClose: () => void;
}) {
  const { data: nodes = [] } = useInstallation();
  const { say } = useNotices();
  const [chosen, setChosen] = useState<number[]>([]);
  const [from, setFrom] = useState<'now' | 'beginning'>('now');
  const titleOf = (p: Point) => {
    const node = nodes.find((n) => n.id === p.nodeId);
    return `${node ? `${nodeTitle(node)}: ` : ''}${pointTitle(p)}${p.phase ? ` ${p.phase}` : ''}${p.calibrated ? ' (calibrated itself)' : ''}`;
  };
  const { dialog } = useSubmit(async () => {
    const made = await api<number[]>(`/calibrations/${calibration.id}/copy`, 'POST', {
      pointIds: chosen,
      validFrom: from === 'now' ? serverNow() : 0,
    });
    await mutate((key) => typeof key === 'string' && /^\/(calibrations|points|installation)/.test(key));
    onClose();
    say(`Copied to ${chosen.length === 1 ? 'one value' : `${chosen.length} values`}.`, async () => {
      for (const id of made) await api(`/calibrations/${id}/undo`, 'POST');
    });
  });
  return (
    <FormDialog
      title={`Copy the correction of ${point.definition.name}`}
      verb="Copy"
      {...dialog}
      busy={dialog.busy || chosen.length === 0}
      dirty={false}
      onClose={onClose}
    >
      <p className="muted" style={{ margin: 0 }}>
        Devices of one kind have similar errors, but not the same one. Points that take over the correction
        are marked as copied, not measured, and count as not calibrated.
      </p>
      <TickList
        items={alike.map((p) => ({ id: p.id, label: titleOf(p) }))}
        chosen={chosen}
        onChange={setChosen}
      />
      <TextField
        select
        label="Holds from"
        value={from}
        onChange={(e) => setFrom(e.target.value as 'now' | 'beginning')}
      >
        <MenuItem value="now">now</MenuItem>
        <MenuItem value="beginning">the first reading</MenuItem>
      </TextField>
    </FormDialog>
  );
}
