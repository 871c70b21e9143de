import type { TopicSeen } from '@loka/contract/messages';
import { topicFor, type MessageDefinition } from '@loka/core/messages';
import { nameOfState, type Access } from '@loka/core/points';
import { quantityInfo } from '@loka/core/quantities';
import { DurationInput } from '../points/DurationInput.js';
import { NamesField, SetsField } from '../points/SettingFields.js';
import { withAccess } from '../points/withAccess.js';
import { FaultsRow, MeasureCells, NameCell, RemoveRow } from '../points/PointCells.js';
import { Measured } from '../shared/Measured.js';
import { givenBy } from './givenBy.js';
import styles from '../points/pointGrid.module.css';

const ACCESS_WORDS: Partial<Record<Access, string>> = { read: 'read', write: 'command', setting: 'setting' };

/** Only a setting is sent on a topic of its own. */
function withMessageAccess(row: MessageDefinition, access: Access): MessageDefinition {
  const { setTopic: _, setPointer: __, ...rest } = row;
  return withAccess(access === 'setting' ? row : rest, access);
}

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
        <td>
          <span className={styles.abreast}>
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
          </span>
        </td>
        <MeasureCells row={row} onChange={onChange} />
        <td>
          <select
            value={row.access}
            {...named('Access')}
            onChange={(e) => onChange(withMessageAccess(row, e.target.value as Access))}
          >
            {Object.entries(ACCESS_WORDS).map(([access, words]) => (
              <option key={access} value={access}>
                {words}
              </option>
            ))}
          </select>
        </td>
        <td>
          <DurationInput
            value={row.intervalMs}
            label={`Interval of ${row.name}`}
            onChange={(intervalMs) => onChange({ ...row, intervalMs })}
          />
        </td>
        <td className={styles.actions}>
          <RemoveRow name={row.name} onRemove={onRemove} />
        </td>
      </tr>
      {row.access === 'setting' && (
        <tr>
          <td />
          <td colSpan={12} className={styles.more}>
            <SettingDetails row={row} base={base} onChange={onChange} />
          </td>
        </tr>
      )}
      <FaultsRow name={row.name} faults={faults} span={13} />
    </>
  );
}

/** How a setting is sent, and what it sets. */
function SettingDetails({
  row,
  base,
  onChange,
}: {
  row: MessageDefinition;
  base: string;
  onChange: (row: MessageDefinition) => void;
}) {
  const setText = (field: 'setTopic' | 'setPointer', value: string) => {
    const { [field]: _, ...rest } = row;
    onChange(value === '' ? rest : { ...rest, [field]: value });
  };
  return (
    <div className={styles.details}>
      <SetsField row={row} onChange={onChange} />
      <label>
        Sent on{' '}
        <input
          value={row.setTopic ?? ''}
          size={26}
          placeholder="it is read only"
          title={row.setTopic === undefined ? '' : topicFor(row.setTopic, base)}
          aria-label={`Topic on which ${row.name} is sent`}
          onChange={(e) => setText('setTopic', e.target.value)}
        />
      </label>
      <label>
        at{' '}
        <input
          value={row.setPointer ?? ''}
          size={13}
          placeholder="whole payload"
          aria-label={`Where ${row.name} stands in what is sent`}
          onChange={(e) => setText('setPointer', e.target.value)}
        />
      </label>
      <NamesField row={row} onChange={onChange} />
    </div>
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
  const state = nameOfState(row, given.value);
  if (state !== null) return <span>{state}</span>;
  if (quantityInfo(row.quantity).kind === 'state')
    return <span>{given.value === 0 ? 'open' : 'closed'}</span>;
  return <Measured value={given.value} unit={quantityInfo(row.quantity).unit} />;
}
