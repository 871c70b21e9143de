import type { AccuracyClass } from '@loka/core/calibration';
import { useMemo } from 'react';
import { useSheet } from '../theme/useSheet.js';
import Chart from '../charts/Chart.js';
import { errorOption, type Judged } from '../charts/calibrationError.js';

/** Error in percent against load, as found and as left, up to the rated current. */
export default function ErrorDrawing({
  points,
  unit,
  rated,
  accuracy,
}: {
  points: Judged[];
  unit: string;
  rated: number | null;
  /** The class whose limits are shaded; null for none. */
  accuracy: AccuracyClass | null;
}) {
  const { sheet } = useSheet();
  const option = useMemo(
    () => errorOption(points, unit, { rated, accuracy }, sheet),
    [points, unit, rated, accuracy, sheet],
  );
  return (
    <Chart
      option={option}
      height={260}
      label={
        points.length === 0
          ? 'No points yet'
          : points
              .map(
                (p) =>
                  `${p.label}: as found ${p.asFound?.toFixed(2) ?? 'zero'} %, as left ${p.asLeft?.toFixed(2) ?? 'zero'} %`,
              )
              .join('; ')
      }
    />
  );
}
