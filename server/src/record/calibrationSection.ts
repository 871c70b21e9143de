import type { Calibration, CalibrationPoint } from '@loka/contract/calibration';
import type { RecordSection, RecordTable } from '@loka/contract/record';
import { CLASS_LABELS, correctionInWords, coverageOf, fitInWords } from '@loka/core/calibration';
import { printError } from '@loka/core/formats';
import { measured, NOTHING, section, type RecordClock } from './section.js';

/** What a calibration of a point says, with the points that it depends on. */
export function calibrationSection(
  clock: RecordClock,
  { name, unit, rated, power }: { name: string; unit: string; rated: number | null; power: string | null },
  calibration: Calibration,
  now: number,
): RecordSection {
  const { fit, best, points, dueAt, copiedFrom } = calibration;
  const percent = (p: CalibrationPoint) =>
    p.uncertainty === undefined || p.reference === 0 ? null : (100 * p.uncertainty) / Math.abs(p.reference);
  return section(`Calibration of ${name}`, {
    says: [
      ...(copiedFrom === null
        ? []
        : [`Copied from “${copiedFrom.device}”, and not measured here: its error is not known.`]),
      ...(dueAt !== null && dueAt < now && copiedFrom === null ? ['It is due to be done again.'] : []),
      ...points
        .flatMap(({ instrument }) => (instrument?.wasDue ? [instrument.name] : []))
        .filter((n, i, all) => all.indexOf(n) === i)
        .map((n) => `“${n}” was itself due for calibration when it was used.`),
    ],
    facts: [
      ['Correction', fit ? fitInWords(fit, unit, calibration) : correctionInWords(calibration, unit)],
      [
        'Uncertainty',
        fit ? `95 %, k = ${coverageOf(fit).toFixed(2)}, after the GUM (JCGM 100)` : 'not reckoned',
      ],
      ...(power === null ? [] : [['Also corrects', `${power}, by its gain`] as [string, string]]),
      ['Holds from', clock.since(calibration.validFrom)],
      ['Made', [clock.minute(calibration.madeAt), calibration.who].filter(Boolean).join(', ')],
      ['Class', classOf(best, unit)],
      ...(dueAt === null || copiedFrom !== null ? [] : [['Due again', clock.day(dueAt)] as [string, string]]),
    ],
    tables: [
      ...(points.length === 0
        ? []
        : [
            {
              head: [
                'Point',
                'Compared with',
                'Read, raw#',
                'Reference#',
                'As found#',
                'As left#',
                'Known to ±#',
              ],
              rows: points.map((p) => [
                p.check ? `${p.label} (check)` : p.label,
                comparedWith(p),
                measured(p.capture.mean, unit),
                measured(p.reference, unit),
                error(p.asFound, p, p.capture.mean, unit),
                p.asLeft === null ? NOTHING : printError(p.asLeft),
                percent(p) === null ? NOTHING : `${(percent(p) as number).toFixed(2)} %`,
              ]),
            },
          ]),
      ...instrumentsUsed(points),
    ],
    errors:
      points.filter((p) => p.reference !== 0).length === 0
        ? null
        : {
            unit,
            rated,
            points: points
              .filter((p) => p.reference !== 0)
              .map((p) => ({
                load: p.reference,
                asFound: p.asFound,
                asLeft: p.asLeft,
                uncertainty: percent(p),
              })),
          },
  });
}

/** The best class that it is evidence for, and over which loads. */
function classOf(best: Calibration['best'], unit: string): string {
  if (best === null || best.from === null || best.to === null)
    return 'its points are no evidence for any load';
  const { accuracy, from, to } = best;
  const range =
    from === to ? `at ${measured(from, unit)}` : `from ${measured(from, unit)} to ${measured(to, unit)}`;
  return `${CLASS_LABELS[accuracy]}, ${range}; no evidence at other loads`;
}

/** At zero there is no error in percent: what was read is the error. */
const error = (percent: number | null, { reference }: CalibrationPoint, raw: number, unit: string): string =>
  percent !== null ? printError(percent) : reference === 0 ? measured(raw, unit) : NOTHING;

function comparedWith({ kind, name, percent, instrument, error: found }: CalibrationPoint): string {
  const tolerance = percent === undefined ? '' : ` ±${percent} %`;
  if (kind === 'zero') return 'nothing flowing';
  if (kind === 'bench')
    return `test bench${found === undefined ? '' : `, error ${printError(found)}`}${tolerance}`;
  if (kind === 'meter') return `another meter${tolerance}`;
  if (kind === 'load') return `load: ${name ?? ''}${tolerance}`;
  const serial = instrument?.serial ? ` (${instrument.serial})` : '';
  return `${name || 'instrument'}${serial}${tolerance}`;
}

/** The instruments as they were when they were used, with the days of their own calibration. */
function instrumentsUsed(points: readonly CalibrationPoint[]): RecordTable[] {
  const used = points.flatMap(({ instrument }) => instrument ?? []);
  const rows = [
    ...new Map(
      used.map((i) => [
        JSON.stringify(i),
        [
          i.name,
          i.serial || NOTHING,
          i.certificate || NOTHING,
          i.calibratedOn ?? NOTHING,
          i.dueOn === null ? NOTHING : i.wasDue ? `${i.dueOn}, past` : i.dueOn,
        ],
      ]),
    ).values(),
  ];
  if (rows.length === 0) return [];
  return [{ head: ['Instrument used', 'Serial number', 'Certificate', 'Calibrated', 'Due'], rows }];
}
