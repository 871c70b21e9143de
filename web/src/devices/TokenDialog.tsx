import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import TextField from '@mui/material/TextField';
import { copyText } from '../shared/copyText.js';
import { useNotices } from '../shared/notices.js';

/** The token of a push link, shown once, with a request that shows how it is used. */
export function TokenDialog({
  linkId,
  token,
  onClose,
}: {
  linkId: number;
  token: string;
  onClose: () => void;
}) {
  const { attempt, say } = useNotices();
  const door = `${window.location.origin}/api/push/${linkId}`;
  const example = `curl -H "Authorization: Bearer ${token}" -H "Content-Type: application/json" \\\n  -d '{"power": 1150}' ${door}/boiler`;
  const copy = () =>
    void attempt(async () => {
      await copyText(token);
      say('The token is in the clipboard.');
    });
  return (
    <Dialog open onClose={onClose} maxWidth="sm" fullWidth>
      <DialogTitle>The token of this link</DialogTitle>
      <DialogContent sx={{ display: 'grid', gap: 1.5, pt: '10px !important' }}>
        <p>
          It is shown this once. Whoever has it can post readings over this link, and nothing else. If it is
          lost, make another.
        </p>
        <TextField label="Token" value={token} slotProps={{ htmlInput: { readOnly: true } }} />
        <TextField
          label="For example"
          value={example}
          multiline
          slotProps={{ htmlInput: { readOnly: true, className: 'measured' } }}
        />
      </DialogContent>
      <DialogActions>
        <Button onClick={copy}>Copy the token</Button>
        <Button variant="contained" onClick={onClose}>
          I have it
        </Button>
      </DialogActions>
    </Dialog>
  );
}
