import { quantityInfo, type Quantity } from '@loka/core/quantities';
import {
  isBitKind,
  wireAddress,
  type Interpretation,
  type PointDefinition,
  type RawSpan,
} from '@loka/core/registers';

/**
 * The rows of a map after an interpretation has been taken for one of them. An address that lies one lower than
 * typed means that the table counts from 1: the typed address stays, and its counting changes. With `forAll` the
 * kind, the counting and the order are taken for the other registers of the map as well.
 */
export function takeInterpretation(
  rows: readonly PointDefinition[],
  key: string,
  found: Interpretation,
  quantity: Quantity,
  forAll: boolean,
): PointDefinition[] {
  const { kind, type, wordOrder, byteOrder } = found;
  const asked = rows.find((row) => row.key === key);
  const wire = asked ? wireAddress(asked.kind, asked.address, asked.counting) : null;
  const fromOne = asked?.counting === 'from-0' && wire?.ok === true && found.address === wire.wire - 1;
  return rows.map((row) => {
    if (row.key === key) {
      const place = fromOne
        ? { counting: 'from-1' as const }
        : wire?.ok && wire.wire === found.address && row.counting !== 'notation'
          ? {}
          : { address: String(found.address), counting: 'from-0' as const };
      return {
        ...row,
        kind,
        type,
        wordOrder,
        byteOrder,
        ...place,
        quantity,
        ...(found.span ? spanScaling(found.span, quantity) : scalingOf(found.factor, quantity)),
      };
    }
    if (!forAll || isBitKind(row.kind)) return row;
    return {
      ...row,
      ...(row.counting === 'notation' ? {} : { kind }),
      wordOrder,
      byteOrder,
      ...(fromOne && row.counting === 'from-0' ? { counting: 'from-1' as const } : {}),
    };
  });
}

/** Counts that stand for a span, as the two pairs that the maker's table prints. */
const spanScaling = (
  { raw, low, high }: RawSpan,
  quantity: Quantity,
): Pick<PointDefinition, 'unit' | 'scaling'> => ({
  unit: quantityInfo(quantity).unit,
  scaling: { kind: 'pairs', raw1: 0, value1: low, raw2: raw, value2: high },
});

/** Thousands are said by the unit (kW, kWh) where there is one, everything else by the factor. */
function scalingOf(factor: number, quantity: Quantity): Pick<PointDefinition, 'unit' | 'scaling'> {
  const { unit, units } = quantityInfo(quantity);
  if (factor === 1000 && units[`k${unit}`] === 1000)
    return { unit: `k${unit}`, scaling: { kind: 'factor', factor: 1, offset: 0 } };
  return { unit, scaling: { kind: 'factor', factor, offset: 0 } };
}
