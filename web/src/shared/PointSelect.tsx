import type { Point } from '@loka/contract/points';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { usePointTitle } from './usePointTitle.js';

/** One of some points, by device and name. */
export function PointSelect({
  label,
  points,
  value,
  onChange,
}: {
  label: string;
  points: readonly Point[];
  value: number;
  onChange: (id: number) => void;
}) {
  const titleOf = usePointTitle();
  return (
    <TextField
      select
      label={label}
      value={value}
      onChange={(e) => onChange(Number(e.target.value))}
      helperText=" "
    >
      {points.map((p) => (
        <MenuItem key={p.id} value={p.id}>
          {titleOf(p)}
        </MenuItem>
      ))}
    </TextField>
  );
}
