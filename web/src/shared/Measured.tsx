import { printNumber, type Prefix } from '@loka/core/formats';
import { useRef } from 'react';

/** A measured number with its unit in a lighter tone; the prefix stays stable while the value wanders. */
export function Measured({
  value,
  unit,
  className = '',
}: {
  value: number | null | undefined;
  unit: string;
  className?: string;
}) {
  const prefix = useRef<Prefix | undefined>(undefined);
  if (value === null || value === undefined) return <span className={`measured muted ${className}`}>–</span>;
  const printed = printNumber(value, unit, prefix.current);
  prefix.current = printed.prefix;
  return (
    <span className={`measured ${className}`}>
      {printed.digits}
      <span className="unit">{printed.unit}</span>
    </span>
  );
}
