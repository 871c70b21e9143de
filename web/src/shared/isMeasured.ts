import type { Point } from '@loka/contract/points';
import { isText } from '@loka/core/definitions';
import { isReadable } from '@loka/core/points';
import { quantityInfo } from '@loka/core/quantities';

/** Whether a point has a value of the moment that can be held against a limit: no text, no counter, no command. */
export const isMeasured = ({ definition }: Point): boolean =>
  isReadable(definition) && !isText(definition) && quantityInfo(definition.quantity).kind === 'instant';
