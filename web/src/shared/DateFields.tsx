import { DatePicker } from '@mui/x-date-pickers/DatePicker';
import { DateTimePicker } from '@mui/x-date-pickers/DateTimePicker';
import { TimeField } from '@mui/x-date-pickers/TimeField';
import { DateTime } from 'luxon';
import { useState } from 'react';

/** How dates and times of day stand in fields, as everywhere else in Loka. */
const DAY = 'd LLL yyyy';
const LOCAL = {
  day: 'yyyy-MM-dd',
  minute: "yyyy-MM-dd'T'HH:mm",
  second: "yyyy-MM-dd'T'HH:mm:ss",
  clock: 'HH:mm',
};

/** No device logged before it; the years to choose from begin here. */
const EARLIEST = DateTime.utc(2000);

/** As all other fields. */
const PLAIN = { size: 'small', fullWidth: true } as const;

/**
 * What a picker shows of a local time in ISO 8601 ("2026-11-03T11:20"), and how it tells what was picked; '' while that is not
 * whole. Local times are no instants yet, so no zone has a say here.
 */
function useLocalTime(
  value: string,
  onChange: (value: string) => void,
  format: string,
): [DateTime | null, (picked: DateTime | null) => void] {
  const [shown, setShown] = useState<DateTime | null>(null);
  const written = shown?.isValid ? shown.toFormat(format) : '';
  const given = value === '' ? null : DateTime.fromISO(value, { zone: 'utc' });
  // While the parts of a date are typed it is none, and the field keeps what stands in it.
  const now = given && given.toFormat(format) !== written ? given : shown;
  return [
    now,
    (picked) => {
      setShown(picked);
      onChange(picked?.isValid ? picked.toFormat(format) : '');
    },
  ];
}

interface FieldProps {
  label: string;
  value: string;
  onChange: (value: string) => void;
  error?: boolean;
  helperText?: string;
}

/** A date and a time by the site's clock, "2026-11-03T11:20"; with the seconds where they matter. */
export function InstantField({
  label,
  value,
  onChange,
  seconds = false,
  latest,
  error = false,
  helperText,
}: FieldProps & { seconds?: boolean; latest?: string }) {
  const [shown, pick] = useLocalTime(value, onChange, seconds ? LOCAL.second : LOCAL.minute);
  return (
    <DateTimePicker
      label={label}
      value={shown}
      onChange={pick}
      timezone="UTC"
      ampm={false}
      format={seconds ? `${DAY} HH:mm:ss` : `${DAY} HH:mm`}
      {...(seconds ? { views: ['year', 'month', 'day', 'hours', 'minutes', 'seconds'] as const } : {})}
      minDateTime={EARLIEST}
      {...(latest ? { maxDateTime: DateTime.fromISO(latest, { zone: 'utc' }) } : {})}
      slotProps={{ textField: { ...PLAIN, error: error || (value === '' && shown !== null), helperText } }}
    />
  );
}

/** A day of the site's calendar, "2026-11-03". */
export function DayField({ label, value, onChange, latest }: FieldProps & { latest: string }) {
  const [shown, pick] = useLocalTime(value, onChange, LOCAL.day);
  return (
    <DatePicker
      label={label}
      value={shown}
      onChange={pick}
      timezone="UTC"
      format={DAY}
      minDate={EARLIEST}
      maxDate={DateTime.fromISO(latest, { zone: 'utc' })}
      slotProps={{ textField: PLAIN }}
    />
  );
}

/** A time of day, "22:00". */
export function ClockField({ label, value, onChange, disabled }: FieldProps & { disabled: boolean }) {
  const [shown, pick] = useLocalTime(value, onChange, LOCAL.clock);
  return (
    <TimeField
      label={label}
      value={shown}
      onChange={pick}
      timezone="UTC"
      ampm={false}
      format={LOCAL.clock}
      size="small"
      disabled={disabled}
    />
  );
}
