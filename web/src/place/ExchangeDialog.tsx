import { type Doubt, ExchangeInput } from '@loka/contract/doubts';
import type { Point } from '@loka/contract/points';
import { fromSiteClock, siteClock } from '@loka/core/time';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { api } from '../api/client.js';
import { useExchanges } from '../api/useApi.js';
import { FormDialog } from '../shared/FormDialog.js';
import { serverNow } from '../api/clock.js';
import { useNotices } from '../shared/notices.js';
import { PointSelect } from '../shared/PointSelect.js';
import { useProblemForm } from '../shared/useProblemForm.js';
import { InstantField } from '../shared/DateFields.js';

const LOCAL = "yyyy-MM-dd'T'HH:mm:ss";
const KILO = 1000;

/** Enters that a meter was exchanged, with the last reading of the old one and the first of the new one. */
export function ExchangeDialog({
  counters,
  zone,
  found,
  onClose,
}: {
  counters: Point[];
  zone: string;
  /** An exchange that Loka has found, to begin with. */
  found: Doubt | undefined;
  onClose: () => void;
}) {
  const [pointId, setPointId] = useState(found?.pointId ?? counters[0]?.id ?? 0);
  const { data: entered = [] } = useExchanges(pointId);
  const { say, attempt } = useNotices();
  const [when, setWhen] = useState(siteClock(zone, (found?.t ?? serverNow()) - 1000, LOCAL));
  const form = useProblemForm(
    ExchangeInput,
    // What Loka has found stands there to begin with; else the fields are empty.
    {
      pointId,
      t: 0,
      before: found?.before == null ? undefined : found.before / KILO,
      after: found?.after == null ? undefined : found.after / KILO,
    } as ExchangeInput,
    async ({ before, after }) => {
      const t = fromSiteClock(zone, when);
      await api('/exchanges', 'POST', { pointId, t, before: before * KILO, after: after * KILO });
      say('Meter exchange recorded.', () => api(`/points/${pointId}/exchanges/${t}`, 'DELETE'));
      onClose();
    },
  );
  return (
    <FormDialog title="Meter exchanged" verb="Enter" onClose={onClose} {...form.dialog}>
      <PointSelect label="Counter" points={counters} value={pointId} onChange={setPointId} />
      <InstantField
        label="When"
        seconds
        value={when}
        onChange={setWhen}
        helperText={`The site’s time (${zone}).`}
      />
      <TextField
        label="Last reading of the old meter, kWh"
        inputMode="decimal"
        {...form.text('before', true)}
      />
      <TextField
        label="First reading of the new meter, kWh"
        inputMode="decimal"
        {...form.text('after', true)}
      />
      {entered.length > 0 && (
        <div>
          <p className="muted">Entered already:</p>
          {entered.map((e) => (
            <p key={e.t}>
              {siteClock(zone, e.t, 'd LLL yyyy HH:mm')}, from {e.before / KILO} to {e.after / KILO} kWh{' '}
              <Button
                onClick={() =>
                  void attempt(async () => {
                    await api(`/points/${pointId}/exchanges/${e.t}`, 'DELETE');
                    say('The exchange was undone.', () =>
                      api('/exchanges', 'POST', { pointId, t: e.t, before: e.before, after: e.after }),
                    );
                  })
                }
              >
                Take back
              </Button>
            </p>
          ))}
        </div>
      )}
    </FormDialog>
  );
}
