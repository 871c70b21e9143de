/**
 * Quality of a reading as one byte, after the status codes of IEC 62541: the two top bits are the severity
 * (00 good, 01 uncertain, 10 bad), the rest the reason.
 */
export const QUALITY = {
  good: 0x00,
  uncertain: 0x40,
  implausible: 0x41,
  /** Computed with a value that is assumed, not measured. */
  assumed: 0x42,
  /** The instant is that of its arrival, because the one inside it cannot be. */
  arrivalTime: 0x43,
  /** It had been waiting on its way while Loka was away; its instant is that of its arrival. */
  queued: 0x44,
  /** At the end of its sensor's range: the true value is at least that large. */
  saturated: 0x45,
  /** There had been such a time before: the clock of the machine had been set back. */
  repeatedTime: 0x46,
  bad: 0x80,
  timeout: 0x81,
  refused: 0x82,
  hostUnknown: 0x83,
  notANumber: 0x84,
  disconnected: 0x85,
  forbidden: 0x86,
  badAnswer: 0x87,
  /** Nothing has been reported for longer than its interval allows. */
  silent: 0x88,
  /** The device itself, or its broker, says that it is not there. */
  offline: 0x89,
  /** What it is computed from is bad. */
  inputBad: 0x8a,
  /** A person has said that it does not count. */
  struckOut: 0x8b,
  /** Plus the exception code of the protocol (1–15). */
  exception: 0x90,
} as const;

export type QualityCode = number;

export const isGood = (quality: QualityCode): boolean => quality < 0x40;
export const isBad = (quality: QualityCode): boolean => quality >= 0x80;
export const isUsable = (quality: QualityCode): boolean => quality < 0x80;
/** Whether a reading goes into rollups and energy: what cannot be true does not, until a person says that it does. */
export const counts = (quality: QualityCode): boolean => quality < 0x80 && quality !== QUALITY.implausible;

/** The quality of an exception that a device answers with. Codes beyond those of the protocol have no number of their own. */
export const exceptionQuality = (code: number): QualityCode =>
  Number.isInteger(code) && code >= 1 && code <= 15 ? QUALITY.exception + code : QUALITY.exception;

const WORDS: Record<number, string> = {
  [QUALITY.good]: 'good',
  [QUALITY.uncertain]: 'uncertain',
  [QUALITY.implausible]: 'uncertain: outside what is possible',
  [QUALITY.assumed]: 'uncertain: with an assumed value',
  [QUALITY.arrivalTime]: 'uncertain: its own time cannot be right',
  [QUALITY.queued]: 'uncertain: it was under way for an unknown time',
  [QUALITY.saturated]: 'uncertain: its sensor is at the end of its range',
  [QUALITY.repeatedTime]: 'uncertain: the clock had been set back, and this time exists twice',
  [QUALITY.bad]: 'bad',
  [QUALITY.timeout]: 'bad: time-out, no answer',
  [QUALITY.refused]: 'bad: connection refused',
  [QUALITY.hostUnknown]: 'bad: host not found',
  [QUALITY.notANumber]: 'bad: not a number',
  [QUALITY.disconnected]: 'bad: connection lost',
  [QUALITY.forbidden]: 'bad: address not allowed',
  [QUALITY.badAnswer]: 'bad: answer not understood',
  [QUALITY.silent]: 'bad: silent',
  [QUALITY.offline]: 'bad: says it is offline',
  [QUALITY.inputBad]: 'bad: an input is missing',
  [QUALITY.struckOut]: 'bad: struck out',
  [QUALITY.exception]: 'bad: exception',
};

/** "good", "bad: time-out, no answer", "bad: exception 2" … */
export function qualityInWords(quality: QualityCode): string {
  if (quality > QUALITY.exception && quality <= QUALITY.exception + 15)
    return `bad: exception ${quality - QUALITY.exception}`;
  return WORDS[quality] ?? (isBad(quality) ? 'bad' : isGood(quality) ? 'good' : 'uncertain');
}
