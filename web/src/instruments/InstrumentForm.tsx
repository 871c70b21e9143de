import { InstrumentInput, type Instrument } from '@loka/contract/instruments';
import { HANDHELD_PERCENT } from '@loka/core/calibration';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { mutate } from 'swr';
import { api } from '../api/client.js';
import { FormDialog } from '../shared/FormDialog.js';
import { useNotices } from '../shared/notices.js';
import { useProblemForm } from '../shared/useProblemForm.js';

/** A reference instrument. */
export function InstrumentForm({ instrument, onClose }: { instrument?: Instrument; onClose: () => void }) {
  const { attempt, say } = useNotices();
  const form = useProblemForm(
    InstrumentInput,
    {
      name: instrument?.name ?? '',
      serial: instrument?.serial ?? '',
      percent: instrument?.percent ?? HANDHELD_PERCENT,
      certificate: instrument?.certificate ?? '',
      calibratedOn: instrument?.calibratedOn ?? '',
      dueOn: instrument?.dueOn ?? '',
    },
    async (values) => {
      await api(
        instrument ? `/instruments/${instrument.id}` : '/instruments',
        instrument ? 'PUT' : 'POST',
        values,
      );
      await mutate('/instruments');
      onClose();
    },
    instrument?.version,
  );
  const remove = ({ id, name }: Instrument) =>
    void attempt(async () => {
      await api(`/instruments/${id}`, 'DELETE');
      await mutate('/instruments');
      onClose();
      say(`“${name}” was removed; calibrations made with it still name it.`, async () => {
        await api(`/instruments/${id}/put-back`, 'POST');
        await mutate('/instruments');
      });
    });
  return (
    <FormDialog
      title={instrument?.name ?? 'A reference instrument'}
      verb={instrument ? 'Save' : 'Add instrument'}
      {...form.dialog}
      onClose={onClose}
      extra={
        instrument && (
          <Button color="error" onClick={() => remove(instrument)}>
            Remove
          </Button>
        )
      }
    >
      <TextField label="Name" autoFocus placeholder="For example Clamp meter 2" {...form.text('name')} />
      <TextField label="Serial number" {...form.text('serial')} />
      <TextField label="Tolerance, ±% of what it shows" {...form.text('percent', true)} />
      <TextField label="Certificate: by whom, and its number" {...form.text('certificate')} />
      <TextField label="Calibrated on" placeholder="2026-03-31" {...form.text('calibratedOn')} />
      <TextField label="Due on" placeholder="2027-03-31" {...form.text('dueOn')} />
    </FormDialog>
  );
}
