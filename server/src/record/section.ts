import type { RecordSection } from '@loka/contract/record';
import { printNumber } from '@loka/core/formats';
import { siteClock } from '@loka/core/time';

export const section = (title: string, parts: Partial<Omit<RecordSection, 'title'>>): RecordSection => ({
  title,
  says: [],
  facts: [],
  tables: [],
  errors: null,
  ...parts,
});

/** "11.35 A" */
export function measured(value: number, unit: string): string {
  const printed = printNumber(value, unit);
  return `${printed.digits} ${printed.unit}`.trim();
}

export const NOTHING = '–';

/** How a record writes instants: by the site's clock. */
export class RecordClock {
  constructor(private readonly zone: string) {}

  day(t: number): string {
    return siteClock(this.zone, t, 'd LLL yyyy');
  }

  minute(t: number): string {
    return siteClock(this.zone, t, 'd LLL yyyy, HH:mm');
  }

  /** From when on something holds, which may be ever. */
  since(t: number): string {
    return t === 0 ? 'the first reading' : this.minute(t);
  }
}
