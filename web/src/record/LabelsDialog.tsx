import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import TextField from '@mui/material/TextField';
import { useState } from 'react';

/** Labels with a code that opens the circuit's page on a phone. @param nodes of these places; null for all that are measured */
export function LabelsDialog({ nodes, onClose }: { nodes: number[] | null; onClose: () => void }) {
  const [address, setAddress] = useState(window.location.origin);
  const [skip, setSkip] = useState('0');
  const gone = Number(skip);
  const skipFault = Number.isInteger(gone) && gone >= 0 && gone <= 20 ? null : 'A whole number from 0 to 20.';
  const fault = faultOf(address);
  const query = new URLSearchParams({
    address,
    skip: String(gone),
    ...(nodes && { nodes: nodes.join(',') }),
  });
  return (
    <Dialog open onClose={onClose} maxWidth="xs" fullWidth>
      <DialogTitle>Labels for devices</DialogTitle>
      <DialogContent sx={{ display: 'grid', gap: 1, pt: '10px !important' }}>
        <p className="muted" style={{ margin: 0 }}>
          A4 sheets of 21 labels, 63.5 mm × 38.1 mm. The code on a label opens the page of its circuit.
        </p>
        <TextField
          label="Where phones find Loka"
          value={address}
          onChange={(e) => setAddress(e.target.value)}
          error={fault !== null}
          helperText={fault ?? hint(address)}
        />
        <TextField
          label="Labels of the first sheet that are gone"
          value={skip}
          inputMode="numeric"
          onChange={(e) => setSkip(e.target.value)}
          error={skipFault !== null}
          helperText={skipFault ?? ' '}
        />
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Cancel</Button>
        <Button
          variant="contained"
          disabled={fault !== null || skipFault !== null}
          href={`/api/records/labels.pdf?${query.toString()}`}
          target="_blank"
          rel="noreferrer"
          onClick={onClose}
        >
          Labels as PDF
        </Button>
      </DialogActions>
    </Dialog>
  );
}

function faultOf(address: string): string | null {
  return URL.canParse(address) && /^https?:$/.test(new URL(address).protocol)
    ? null
    : 'Write the address as http://192.168.1.20:8420.';
}

const hint = (address: string): string =>
  /^(localhost|127\.|\[::1\])/.test(new URL(address).hostname)
    ? 'This address works on this machine only. Type the one that phones on the site know.'
    : ' ';
