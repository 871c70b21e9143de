import { useState, type FormEvent } from 'react';
import { inWords } from '../api/client.js';

/**
 * Sends what a dialog holds, once at a time: `dialog` is what a FormDialog needs of it. What goes wrong is said as
 * `problem` and the dialog stays as it is, so that nothing typed is lost.
 */
export function useSubmit(send: () => Promise<void>) {
  const [problem, setProblem] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const submit = async () => {
    setBusy(true);
    setProblem(null);
    try {
      await send();
    } catch (error) {
      setProblem(inWords(error));
    } finally {
      setBusy(false);
    }
  };
  const onSubmit = (event: FormEvent) => {
    event.preventDefault();
    void submit();
  };
  return { busy, problem, forget: () => setProblem(null), dialog: { busy, problem, onSubmit } };
}
