import type { Point } from '@loka/contract/points';
import { fromSiteClock, siteClock } from '@loka/core/time';
import { useState } from 'react';
import { FormDialog } from '../shared/FormDialog.js';
import { PointSelect } from '../shared/PointSelect.js';
import { usePeriod } from '../shared/period.js';
import { serverNow } from '../api/clock.js';
import { InstantField } from '../shared/DateFields.js';

const LOCAL = "yyyy-MM-dd'T'HH:mm";

/** Exports the readings of a point in a period as CSV. */
export default function ExportDialog({ points, onClose }: { points: Point[]; onClose: () => void }) {
  const { span, zone } = usePeriod();
  const [point, setPoint] = useState(points[0]?.id ?? 0);
  const [from, setFrom] = useState(siteClock(zone, span.start, LOCAL));
  const [to, setTo] = useState(siteClock(zone, Math.min(span.end, serverNow() + 60_000), LOCAL));
  const start = instant(zone, from);
  const end = instant(zone, to);
  const fault = start === null ? 'Type a date and time.' : null;
  const endFault =
    end === null
      ? 'Type a date and time.'
      : start !== null && end <= start
        ? 'The period ends before it starts. Choose an end after the start.'
        : null;
  const save = () => {
    if (fault ?? endFault) return;
    const link = document.createElement('a');
    link.href = `/api/readings/export.csv?point=${point}&from=${start}&to=${end}`;
    link.download = '';
    link.click();
    onClose();
  };
  return (
    <FormDialog
      title="Export readings"
      verb="Save CSV"
      // A period is soon chosen again.
      dirty={false}
      onClose={onClose}
      onSubmit={(e) => {
        e.preventDefault();
        save();
      }}
    >
      <PointSelect label="Point" points={points} value={point} onChange={setPoint} />
      <InstantField
        label="From"
        value={from}
        onChange={setFrom}
        error={fault !== null}
        helperText={fault ?? ' '}
      />
      <InstantField
        label="To"
        value={to}
        onChange={setTo}
        error={endFault !== null}
        helperText={endFault ?? ' '}
      />
      <p className="muted">
        Times are the site’s ({zone}). Columns: time with offset, corrected value, unit, quality, raw value.
      </p>
    </FormDialog>
  );
}

function instant(zone: string, local: string): number | null {
  try {
    return fromSiteClock(zone, local);
  } catch {
    return null; // shown at the field while it is being typed
  }
}
