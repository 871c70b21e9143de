import type { Point } from '@loka/contract/points';
import { UNCALIBRATED_TOLERANCE } from '@loka/core/calibration';
import { limitMargin } from '@loka/core/control';
import { printInUnit } from '@loka/core/formats';
import Alert from '@mui/material/Alert';
import { Link } from 'react-router';
import { useLoadDraw } from '../api/useApi.js';
import { unitOf } from '../shared/nodes.js';

/** What speaks against a limit, where it is set: the load usually draws as much, or the reading is too uncertain to tell. */
export function LimitAdvice({ point, limit }: { point: Point; limit: number | undefined }) {
  const { data: draw } = useLoadDraw(point.id);
  if (!draw) return null;
  const print = (value: number) => printInUnit(value, unitOf(point));
  const { calibrated, usual, uncertainty } = draw;
  const margin =
    usual === null || uncertainty === null || !limit ? 'clear' : limitMargin(limit, usual, uncertainty);
  const words = [
    ...(calibrated
      ? []
      : [`This reading was never calibrated: it may be off by ${UNCALIBRATED_TOLERANCE * 100} %.`]),
    ...(margin === 'below'
      ? [`In the last week the load drew up to ${print(usual ?? 0)}: ordinary use would cut it off.`]
      : margin === 'within'
        ? [
            `In the last week the load drew up to ${print(usual ?? 0)}, and that may be off by ±${print(uncertainty ?? 0)}: this limit lies within that.`,
          ]
        : []),
  ];
  if (words.length === 0) return null;
  const said = (
    <>
      {words.join(' ')}{' '}
      {!calibrated && point.nodeId !== null && (
        <Link to={`/bench?at=${point.nodeId}&point=${point.id}`}>Calibrate it</Link>
      )}
    </>
  );
  if (margin === 'clear') return <p className="muted">{said}</p>;
  return (
    <Alert severity="warning" variant="outlined">
      {said}
    </Alert>
  );
}
