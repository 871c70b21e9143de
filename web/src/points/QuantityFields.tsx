import { QUANTITIES, QUANTITY_NAMES, quantityInfo, type Quantity } from '@loka/core/quantities';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';

/** Which quantity a value is of. */
export function QuantityField({ value, onChange }: { value: Quantity; onChange: (value: Quantity) => void }) {
  return (
    <TextField
      select
      label="Quantity"
      value={value}
      onChange={(e) => onChange(e.target.value as Quantity)}
      helperText=" "
    >
      {QUANTITY_NAMES.map((q) => (
        <MenuItem key={q} value={q}>
          {QUANTITIES[q].label}
        </MenuItem>
      ))}
    </TextField>
  );
}

/** In which of its quantity's units a value comes. */
export function UnitField({
  quantity,
  value,
  onChange,
}: {
  quantity: Quantity;
  value: string;
  onChange: (value: string) => void;
}) {
  return (
    <TextField select label="Unit" value={value} onChange={(e) => onChange(e.target.value)} helperText=" ">
      {Object.keys(quantityInfo(quantity).units).map((u) => (
        <MenuItem key={u} value={u}>
          {u || 'none'}
        </MenuItem>
      ))}
    </TextField>
  );
}
