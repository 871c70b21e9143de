import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useEffect, useState } from 'react';
import { useBlocker, useLocation } from 'react-router';
import { anythingUnsaved, isDone, letGo, lostByGoing } from '../shared/unsaved.js';

/** Asks before a page is left whose work is not saved; the browser asks in its own words on closing and reloading. */
export function LeaveGuard() {
  const [lost, setLost] = useState<string[]>([]);
  const blocker = useBlocker(({ currentLocation, nextLocation }) => {
    const what = isDone(nextLocation) ? [] : lostByGoing(nextLocation, currentLocation);
    if (what.length > 0) setLost(what);
    else letGo(nextLocation, currentLocation);
    return what.length > 0;
  });
  useEffect(() => {
    const onLeave = (event: BeforeUnloadEvent) => {
      if (anythingUnsaved()) event.preventDefault();
    };
    window.addEventListener('beforeunload', onLeave);
    return () => window.removeEventListener('beforeunload', onLeave);
  }, []);
  const from = useLocation();
  if (blocker.state !== 'blocked') return null;
  const leave = () => {
    letGo(blocker.location, from);
    blocker.proceed();
  };
  return (
    <Dialog open onClose={() => blocker.reset()} maxWidth="xs" fullWidth>
      <DialogTitle>Leave without saving?</DialogTitle>
      <DialogContent>Not saved: {lost.join('; ')}.</DialogContent>
      <DialogActions>
        <Button onClick={() => blocker.reset()} autoFocus>
          Stay
        </Button>
        <Button variant="contained" color="error" onClick={leave}>
          Leave
        </Button>
      </DialogActions>
    </Dialog>
  );
}
