import MenuItem from '@mui/material/MenuItem';
import TextField, { type TextFieldProps } from '@mui/material/TextField';
import { messageOf } from './useProblemForm.js';
import { Controller, type Control, type FieldValues, type Path } from 'react-hook-form';

export interface Option {
  value: string | number | null;
  label: string;
}

/** A choice among options, as part of a form. The empty option stands for null. */
export function Choice<T extends FieldValues>({
  control,
  name,
  options,
  onChange,
  ...rest
}: { control: Control<T>; name: Path<T>; options: Option[] } & Omit<TextFieldProps, 'name' | 'select'>) {
  return (
    <Controller
      control={control}
      name={name}
      render={({ field, fieldState }) => (
        <TextField
          {...rest}
          select
          slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
          name={name}
          inputRef={field.ref}
          value={field.value ?? ''}
          onBlur={field.onBlur}
          onChange={(event) => {
            field.onChange(event.target.value === '' ? null : event.target.value);
            onChange?.(event);
          }}
          error={fieldState.error !== undefined}
          helperText={messageOf(fieldState.error) ?? rest.helperText ?? ' '}
        >
          {options.map((option) => (
            <MenuItem key={String(option.value)} value={option.value ?? ''}>
              {option.label}
            </MenuItem>
          ))}
        </TextField>
      )}
    />
  );
}
