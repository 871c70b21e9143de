import Button from '@mui/material/Button';
import Snackbar from '@mui/material/Snackbar';
import { createContext, useCallback, useContext, useMemo, useRef, useState, type ReactNode } from 'react';
import { inWords } from '../api/client.js';

interface Notice {
  /** Which one it is: each has its own time to be read, also when another one is still there. */
  id: number;
  text: string;
  failed?: boolean;
  undo?: () => Promise<unknown>;
}

interface Notices {
  say: (text: string, undo?: () => Promise<unknown>) => void;
  /** Runs something and tells when it fails. */
  attempt: (work: () => Promise<unknown>) => Promise<boolean>;
}

const Context = createContext<Notices>({ say: () => undefined, attempt: async () => false });

export const useNotices = (): Notices => useContext(Context);

/** On a phone a notice leaves free what is pressed at the foot: the work areas, and the buttons above them. */
const ABOVE_THE_FOOT = { '@media (max-width: 760px)': { bottom: '124px' } };

/** Short notices at the foot of the screen: what was done, with a way back where there is one; what failed. */
export function NoticesProvider({ children }: { children: ReactNode }) {
  const [notice, setNotice] = useState<Notice | null>(null);
  const count = useRef(0);
  const say = useCallback(
    (text: string, undo?: () => Promise<unknown>) =>
      setNotice({ id: (count.current += 1), text, ...(undo ? { undo } : {}) }),
    [],
  );
  const attempt = useCallback(async (work: () => Promise<unknown>) => {
    try {
      await work();
      return true;
    } catch (error) {
      setNotice({ id: (count.current += 1), text: inWords(error), failed: true });
      return false;
    }
  }, []);
  const value = useMemo(() => ({ say, attempt }), [say, attempt]);
  const undo = notice?.undo;
  return (
    <Context.Provider value={value}>
      {children}
      <Snackbar
        key={notice?.id}
        open={notice !== null}
        autoHideDuration={notice?.failed ? null : 8000}
        onClose={(_event, reason) => reason !== 'clickaway' && setNotice(null)}
        message={notice?.text}
        sx={ABOVE_THE_FOOT}
        action={
          <>
            {undo && (
              <Button
                color="inherit"
                onClick={() => {
                  setNotice(null);
                  void attempt(undo);
                }}
              >
                Undo
              </Button>
            )}
            <Button color="inherit" onClick={() => setNotice(null)}>
              Close
            </Button>
          </>
        }
      />
    </Context.Provider>
  );
}
