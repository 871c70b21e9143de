import { isReadable } from '@loka/core/points';
import type { Point } from '@loka/contract/points';
import { quantityInfo } from '@loka/core/quantities';

/** Whether a point counts: what it has counted can be compared with a better meter. */
export const isCounted = (p: Point): boolean =>
  isReadable(p.definition) && quantityInfo(p.definition.quantity).kind === 'counter';

/** Whether a calibration can correct a point: it is read, and it is a quantity of the moment. */
export const isCorrectable = (p: Point): boolean =>
  isReadable(p.definition) && quantityInfo(p.definition.quantity).kind === 'instant';
