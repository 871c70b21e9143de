import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import { Controller, type Control, type FieldValues, type Path } from 'react-hook-form';

/** A yes or no, as part of a form. */
export function Tick<T extends FieldValues>({
  control,
  name,
  label,
}: {
  control: Control<T>;
  name: Path<T>;
  label: string;
}) {
  return (
    <Controller
      control={control}
      name={name}
      render={({ field }) => (
        <FormControlLabel
          control={<Checkbox checked={field.value === true} onChange={field.onChange} />}
          label={label}
        />
      )}
    />
  );
}
