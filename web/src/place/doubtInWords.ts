import type { Doubt } from '@loka/contract/doubts';
import { printCounter, printInUnit } from '@loka/core/formats';

const printed = (value: number | null, unit: string): string =>
  value === null ? 'nothing' : printInUnit(value, unit);

const reading = (value: number | null): string => (value === null ? 'nothing' : printCounter(value));

/** What happened and what was made of it, in a sentence or two. */
export function doubtInWords(doubt: Doubt, unit: string): string {
  const { kind, before, after, counted, readings } = doubt;
  const made = printed(counted, 'Wh');
  const [was, is] = kind === 'implausible' ? ['', printed(after, unit)] : [reading(before), reading(after)];
  switch (kind) {
    case 'implausible':
      return readings === 0
        ? 'Readings that were judged.'
        : `${readings === 1 ? 'One reading' : `${readings} readings`} of up to ${is}: which is not possible, so it is not counted.`;
    case 'glitch':
      return `It read ${is} after ${was}, and went on as before. Nothing was counted for it.`;
    case 'rolled-over':
      return `It began again after ${was}, and read ${is}: ${made} counted.`;
    case 'reset':
      return `It was set to nothing at ${was}, and read ${is}: ${made} counted since.`;
    case 'fell-back':
      return `After a time without readings it came back at ${is}, below ${was}. Nothing was counted for it.`;
    case 'exchange':
      return `It went from ${was} to ${is}, more than can have been taken: another meter? ${made} counted as an estimate.`;
    case 'returned':
      return `It came back to ${is} from a break: ${made} counted for the time in between.`;
  }
}
