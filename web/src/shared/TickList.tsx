import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import type { ReactNode } from 'react';

/** Things of which some are chosen, one tick each. */
export function TickList<T>({
  items,
  chosen,
  onChange,
  className,
}: {
  items: readonly { id: T; label: ReactNode }[];
  chosen: readonly T[];
  onChange: (chosen: T[]) => void;
  className?: string | undefined;
}) {
  return (
    <div className={className}>
      {items.map(({ id, label }) => (
        <FormControlLabel
          key={String(id)}
          label={label}
          control={
            <Checkbox
              size="small"
              checked={chosen.includes(id)}
              onChange={(e) =>
                onChange(e.target.checked ? [...chosen, id] : chosen.filter((other) => other !== id))
              }
            />
          }
        />
      ))}
    </div>
  );
}
