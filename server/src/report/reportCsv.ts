import type { EnergyReport } from '@loka/contract/report';
import { isoWithOffset, siteClock } from '@loka/core/time';
import { stringify } from 'csv-stringify/sync';

type Row = [part: string, place: string, at: string, quantity: string, value: number | string, unit: string];

/** A report as a table of figures: one a line, with what it is of. Numbers with a point, instants by ISO 8601. */
export function reportCsv(report: EnergyReport): string {
  const { site, total, before, lastYear, place } = report;
  const at = (t: number) => isoWithOffset(site.timeZone, t);
  const rows: Row[] = [];
  const add = (...row: [string, string, string, string, number | null, string]) => {
    const [part, of, when, quantity, value, unit] = row;
    if (value !== null) rows.push([part, of, when, quantity, Number(value.toPrecision(9)), unit]);
  };
  for (const [part, figures] of [
    ['total', total],
    ['period before', before],
    ['year before', lastYear],
  ] as const) {
    if (!figures) continue;
    const span = `${at(figures.from)}/${at(figures.to)}`;
    add(part, place, span, 'taken', figures.taken, 'Wh');
    add(part, place, span, 'given', figures.given, 'Wh');
    add(part, place, span, 'known', figures.coverage, '1');
    if (figures.taken !== null && site.price !== null)
      add(part, place, span, 'cost', (figures.taken / 1000) * site.price, site.currency);
    if (figures.taken !== null && site.carbon !== null)
      add(part, place, span, 'CO2', (figures.taken / 1000) * site.carbon, 'g');
  }
  for (const { block, highest } of report.profile.demand)
    if (highest) add('demand', place, at(highest.at), `highest ${block / 60_000} min`, highest.watts, 'W');
  for (const { name, watts } of report.peak?.parts ?? [])
    add('peak', name, at(report.peak?.at ?? 0), 'mean power', watts, 'W');
  for (const use of report.uses) {
    add('use', use.name, '', 'energy', use.energy, 'Wh');
    add('use', use.name, '', 'a day', use.perDay, 'Wh');
    add('use', use.name, '', 'a day before', use.before, 'Wh');
    add('use', use.name, '', 'a day the year before', use.lastYear, 'Wh');
    add('use', use.name, '', 'known', use.coverage, '1');
  }
  for (const day of report.days) {
    const date = siteClock(site.timeZone, day.start, 'yyyy-MM-dd');
    add('day', place, date, 'taken', day.taken, 'Wh');
    add('day', place, date, 'given', day.given, 'Wh');
  }
  for (const { name, condition, raisedAt, returnedAt } of report.alerts)
    rows.push([
      'alert',
      name,
      `${at(raisedAt)}/${returnedAt === null ? '..' : at(returnedAt)}`,
      condition,
      '',
      '',
    ]);
  for (const { name, coverage } of report.partly) add('read in part', name, '', 'known', coverage, '1');
  return stringify(rows, {
    header: true,
    columns: ['part', 'place', 'at', 'quantity', 'value', 'unit'],
    escape_formulas: true,
  });
}
