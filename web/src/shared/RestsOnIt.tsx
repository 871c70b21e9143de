import type { Dependent } from '@loka/contract/dependents';

const KIND: Record<Dependent['kind'], string> = {
  switch: 'Switch',
  'cut-off': 'Cut-off of',
  alert: 'Alert',
  'virtual meter': 'Virtual meter',
};

/** What would no longer work, one line each. */
export function RestsOnIt({ dependents }: { dependents: readonly Dependent[] }) {
  return (
    <>
      <p>These depend on it, and do nothing without it:</p>
      <ul style={{ margin: 0, paddingLeft: 18 }}>
        {dependents.map(({ kind, id, name, does }) => (
          <li key={`${kind} ${id}`}>
            {KIND[kind]} <strong>{name}</strong>: {does}
          </li>
        ))}
      </ul>
    </>
  );
}
