import Button from '@mui/material/Button';
import Snackbar from '@mui/material/Snackbar';
import { createContext, useCallback, useContext, useMemo, useState, type ReactNode } from 'react';
import { inWords } from '../api/client.js';

interface Notice {
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

/** Short notices at the foot of the screen: what was done, with a way back where there is one; what failed. */
export function NoticesProvider({ children }: { children: ReactNode }) {
  const [notice, setNotice] = useState<Notice | null>(null);
  const say = useCallback(
    (text: string, undo?: () => Promise<unknown>) => setNotice(undo ? { text, undo } : { text }),
    [],
  );
  const attempt = useCallback(async (work: () => Promise<unknown>) => {
    try {
      await work();
      return true;
    } catch (error) {
      setNotice({ text: inWords(error), failed: true });
      return false;
    }
  }, []);
  const value = useMemo(() => ({ say, attempt }), [say, attempt]);
  const undo = notice?.undo;
  return (
    <Context.Provider value={value}>
      {children}
      <Snackbar
        open={notice !== null}
        autoHideDuration={notice?.failed ? null : 8000}
        onClose={(_event, reason) => reason !== 'clickaway' && setNotice(null)}
        message={notice?.text}
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
