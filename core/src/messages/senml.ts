/** A record of SenML (RFC 8428) with its base fields resolved. */
export interface SenmlRecord {
  name: string;
  unit: string | null;
  /** Number, state or text; null when the record only carries a sum. */
  value: number | boolean | string | null;
  /** Integral over time, as a counter gives it. */
  sum: number | null;
  /** UTC ms. */
  t: number;
  /** Whether the pack says a time at all; without one it is taken to be of now (4.5.3). */
  timed: boolean;
}

/** Thrown when a text is no SenML pack; the message says which record is wrong. */
export class SenmlError extends Error {
  override name = 'SenmlError';
}

/** Below this, a time is relative to now (RFC 8428, 4.5.3). */
const RELATIVE = 2 ** 28;

/**
 * Resolves a SenML pack in JSON (RFC 8428, section 4.6): base values are added, names are joined, times become
 * absolute. Unknown fields are ignored, except those that end in "_", which must be understood.
 * @param now UTC ms, for relative times and records without one
 * @throws SenmlError
 */
export function resolveSenml(json: unknown, now: number): SenmlRecord[] {
  if (!Array.isArray(json) || json.length === 0)
    throw new SenmlError('A SenML pack is an array with at least one record.');
  let base = {
    name: '',
    time: 0,
    timed: false,
    unit: null as string | null,
    value: null as number | null,
    sum: null as number | null,
  };
  let version = 10;
  const records: SenmlRecord[] = [];
  json.forEach((entry: unknown, i) => {
    const wrong = (what: string): never => {
      throw new SenmlError(`Record ${i + 1}: ${what}.`);
    };
    if (typeof entry !== 'object' || entry === null || Array.isArray(entry))
      return wrong('it is not an object');
    const record = entry as Record<string, unknown>;
    for (const key of Object.keys(record))
      if (key.endsWith('_')) wrong(`“${key}” must be understood, and is not`);
    const number = (key: string): number | undefined => {
      const value = record[key];
      if (value === undefined) return undefined;
      return typeof value === 'number' && Number.isFinite(value) ? value : wrong(`“${key}” is not a number`);
    };
    const text = (key: string): string | undefined => {
      const value = record[key];
      if (value === undefined) return undefined;
      return typeof value === 'string' ? value : wrong(`“${key}” is not a text`);
    };
    const bver = number('bver');
    if (bver !== undefined && bver !== version) {
      if (i > 0 || bver > 10 || bver < 1) wrong(`version ${bver} is not understood`);
      version = bver;
    }
    base = {
      name: text('bn') ?? base.name,
      time: number('bt') ?? base.time,
      timed: base.timed || record.bt !== undefined,
      unit: text('bu') ?? base.unit,
      value: number('bv') ?? base.value,
      sum: number('bs') ?? base.sum,
    };
    const given = ['v', 'vs', 'vb', 'vd'].filter((key) => record[key] !== undefined);
    const s = number('s');
    if (given.length > 1) wrong(`it has ${given.join(' and ')}; a record has one value`);
    if (given.length === 0 && s === undefined && base.sum === null && base.value === null) return;
    const name = base.name + (text('n') ?? '');
    if (!/^[A-Za-z0-9][A-Za-z0-9\-:./_]*$/.test(name)) wrong(`“${name}” is not a name`);
    const v = number('v');
    const value =
      text('vs') ??
      text('vd') ??
      (record.vb === undefined
        ? undefined
        : typeof record.vb === 'boolean'
          ? record.vb
          : wrong('“vb” is not true or false'));
    const plain =
      given.length === 0 ? (base.value ?? null) : v === undefined ? (value ?? null) : v + (base.value ?? 0);
    const timed = base.timed || record.t !== undefined;
    const time = base.time + (number('t') ?? 0);
    records.push({
      name,
      unit: text('u') ?? base.unit,
      value: plain,
      sum: s === undefined && base.sum === null ? null : (s ?? 0) + (base.sum ?? 0),
      t: Math.round(time < RELATIVE ? now + time * 1000 : time * 1000),
      timed,
    });
  });
  return records;
}

/** Units of the SenML registry (RFC 8428, section 12.1) that Loka calls by another name. */
const CALLED: Record<string, string> = { Cel: '°C', '/': '', '%EL': '%' };

/** A unit of the SenML registry as Loka's quantities call it; one that is not known stays as it is. */
export const unitOfSenml = (unit: string): string => CALLED[unit] ?? unit;

/** Whether a JSON value looks like a SenML pack rather than a plain object. */
export const isSenml = (json: unknown): boolean => Array.isArray(json);
