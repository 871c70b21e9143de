import {
  Children,
  createContext,
  isValidElement,
  useCallback,
  useContext,
  useLayoutEffect,
  useState,
  type Dispatch,
  type ReactNode,
  type SetStateAction,
} from 'react';
import styles from './InOrder.module.css';

type Waiting = ReadonlySet<string>;

const Part = createContext<(waits: boolean) => void>(() => undefined);

/**
 * Parts of a page that each load by themselves, shown from the top down: a part comes into view once all above it are there.
 * Otherwise one that comes late pushes the ones below away from under a finger.
 */
export function InOrder({ children }: { children: ReactNode }) {
  const [waiting, setWaiting] = useState<Waiting>(new Set());
  const parts = Children.toArray(children).filter(isValidElement);
  const first = parts.findIndex((part) => waiting.has(String(part.key)));
  return parts.map((part, i) => (
    <OnePart key={part.key} name={String(part.key)} isLater={first >= 0 && i > first} setWaiting={setWaiting}>
      {part}
    </OnePart>
  ));
}

/** So long the others wait for a part, ms: one whose answer never comes must not hide them. */
const PATIENCE = 10_000;

/** Says that this part is not there yet; a part that never says so is there at once. */
export function useWaits(waits: boolean): void {
  const say = useContext(Part);
  useLayoutEffect(() => {
    say(waits);
    if (!waits) return;
    const timer = setTimeout(() => say(false), PATIENCE);
    return () => {
      clearTimeout(timer);
      say(false);
    };
  }, [say, waits]);
}

function OnePart({
  name,
  isLater,
  setWaiting,
  children,
}: {
  name: string;
  isLater: boolean;
  setWaiting: Dispatch<SetStateAction<Waiting>>;
  children: ReactNode;
}) {
  const say = useCallback(
    (waits: boolean) =>
      setWaiting((before) => {
        if (before.has(name) === waits) return before;
        const next = new Set(before);
        if (waits) next.add(name);
        else next.delete(name);
        return next;
      }),
    [name, setWaiting],
  );
  return (
    <Part value={say}>
      <div className={isLater ? styles.later : styles.there}>{children}</div>
    </Part>
  );
}
