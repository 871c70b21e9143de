import type { TopicSeen } from '@loka/contract/messages';
import { topicFor, type MessageDefinition } from '@loka/core/messages';
import { ACCESSES, type Access } from '@loka/core/points';
import { quantityInfo } from '@loka/core/quantities';
import { NumberInput } from '../points/NumberInput.js';
import { FaultsRow, MeasureCells, NameCell, RemoveRow } from '../points/PointCells.js';
import { Measured } from '../shared/Measured.js';
import { givenBy } from './givenBy.js';
import styles from '../points/pointGrid.module.css';

/**
 * A value of a map of messages: its topic, where in the payload it stands, how it is scaled and what it is; beside it
 * what it gives with the last payload that has come.
 */
export function MessageRow({
  row,
  base,
  seen,
  faults,
  onChange,
  onRemove,
}: {
  row: MessageDefinition;
  /** Base topic of the device at hand. */
  base: string;
  /** What has last come on the topic of the value; null before anything has. */
  seen: TopicSeen | null;
  faults: string[];
  onChange: (row: MessageDefinition) => void;
  onRemove: () => void;
}) {
  const named = (what: string) => ({ 'aria-label': `${what} of ${row.name}` });
  /** Sets a member, or leaves it out when it is empty. */
  const setText = (field: 'timePointer' | 'on' | 'off', value: string) => {
    const { [field]: _, ...rest } = row;
    onChange(value === '' ? rest : { ...rest, [field]: value });
  };
  return (
    <>
      <tr className={faults.length > 0 ? styles.faulty : ''}>
        <NameCell row={row} onChange={onChange} />
        <td>
          <input
            value={row.topic}
            size={24}
            title={topicFor(row.topic, base)}
            {...named('Topic')}
            onChange={(e) => onChange({ ...row, topic: e.target.value })}
          />
        </td>
        <td>
          <input
            value={row.pointer}
            size={13}
            placeholder="whole"
            {...named('Pointer')}
            onChange={(e) => onChange({ ...row, pointer: e.target.value })}
          />
        </td>
        <td>
          <input
            value={row.timePointer ?? ''}
            size={7}
            {...named('Time')}
            onChange={(e) => setText('timePointer', e.target.value)}
          />
        </td>
        <td className={styles.gives}>
          <Gives row={row} seen={seen} />
        </td>
        <td style={{ whiteSpace: 'nowrap' }}>
          <input
            value={row.on ?? ''}
            size={5}
            {...named('On')}
            onChange={(e) => setText('on', e.target.value)}
          />
          <input
            value={row.off ?? ''}
            size={5}
            {...named('Off')}
            onChange={(e) => setText('off', e.target.value)}
          />
        </td>
        <MeasureCells row={row} onChange={onChange} />
        <td>
          <select
            value={row.access}
            {...named('Access')}
            onChange={(e) => onChange({ ...row, access: e.target.value as Access })}
          >
            {ACCESSES.filter((a) => a !== 'read-write').map((a) => (
              <option key={a} value={a}>
                {a === 'read' ? 'read' : 'command'}
              </option>
            ))}
          </select>
        </td>
        <td>
          <NumberInput
            value={row.intervalMs}
            label={`Interval of ${row.name}`}
            onChange={(intervalMs) => onChange({ ...row, intervalMs })}
          />
        </td>
        <td className={styles.actions}>
          <RemoveRow name={row.name} onRemove={onRemove} />
        </td>
      </tr>
      <FaultsRow name={row.name} faults={faults} span={13} />
    </>
  );
}

/** What a value gives with the last payload on its topic. */
function Gives({ row, seen }: { row: MessageDefinition; seen: TopicSeen | null }) {
  if (row.access === 'write') return <span className="muted">is sent</span>;
  if (!seen) return <span className="muted">nothing yet</span>;
  const given = givenBy(row, seen);
  if ('fault' in given)
    return (
      <span className="danger" title={given.fault}>
        {given.fault.length > 40 ? `${given.fault.slice(0, 40)}…` : given.fault}
      </span>
    );
  if (quantityInfo(row.quantity).kind === 'state')
    return <span>{given.value === 0 ? 'open' : 'closed'}</span>;
  return <Measured value={given.value} unit={quantityInfo(row.quantity).unit} />;
}
