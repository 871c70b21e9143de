import { printNumber, type Prefix } from '@loka/core/formats';
import { useRef } from 'react';
import styles from './elements.module.css';

/** The digits of a number, as large as there is room, with its unit; a dash where it is not known. */
export function Digits({
  value,
  unit,
  digits,
  old,
}: {
  value: number | null;
  unit: string;
  /** Decimals; null takes as many as the size asks for. */
  digits: number | null;
  old: boolean;
}) {
  const prefix = useRef<Prefix | undefined>(undefined);
  if (value === null) return <span className={`measured muted ${styles.digits}`}>–</span>;
  const printed = printNumber(value, unit, prefix.current, digits ?? undefined);
  prefix.current = printed.prefix;
  return (
    <span className={`measured ${styles.digits}`} data-old={old}>
      {printed.digits}
      <span className="unit">{printed.unit}</span>
    </span>
  );
}
