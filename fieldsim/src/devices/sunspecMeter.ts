import { totalVars, totalWatts, type Flow } from '../building/building.js';
import { LINES } from '../building/load.js';
import { NO_BITS, type FieldDevice } from './device.js';
import type { MeteredFlow } from './threePhaseMeter.js';

const BASE = 40000;
const NOT_THERE = 0x8000;

/**
 * A three-phase meter that speaks the open SunSpec models: marker at 40000, common model 1, meter model 203 with
 * integers and scale factors, end mark. Written down from the models' layout, apart from Loka's reader of them.
 */
export class SunspecMeter implements FieldDevice {
  readonly bit = NO_BITS.bit;
  readonly writeCoil = NO_BITS.writeCoil;

  constructor(
    readonly name: string,
    readonly unit: number,
    private readonly wired: MeteredFlow,
  ) {}

  values(): Record<string, number> {
    const flow = this.wired.flow();
    const lines = (stem: string, of: (line: Flow['L1']) => number, step: number, total: number) => [
      [stem, Math.round(total / step) * step],
      ...LINES.map((line) => [`${stem}-${line.toLowerCase()}`, Math.round(of(flow[line]) / step) * step]),
    ];
    const watts = totalWatts(flow);
    return Object.fromEntries([
      ...lines('power', (l) => l.watts, 10, watts),
      ['energy-import', Math.round(this.wired.energy() / 10) * 10],
    ]) as Record<string, number>;
  }

  register(address: number): number | undefined {
    return this.image()[address - BASE];
  }

  private image(): number[] {
    const flow = this.wired.flow();
    const watts = totalWatts(flow);
    const vars = totalVars(flow);
    const apparent = Math.hypot(watts, vars);
    const amperes = LINES.map((l) => flow[l].amperes);
    const volts = LINES.map((l) => flow[l].volts);
    const mean = volts.reduce((a, b) => a + b, 0) / 3;
    const each = (of: (l: Flow['L1']) => number) => LINES.map((l) => of(flow[l]));
    const apparents = each((l) => Math.hypot(l.watts, l.vars));
    const s = (value: number, exponent: number) => Math.round(value / 10 ** exponent) & 0xffff;
    const group = (total: number, lines: number[], exponent: number) =>
      [total, ...lines].map((v) => s(v, exponent)).concat(exponent & 0xffff);
    const factor = (w: number, a: number) => (a > 1 ? (w / a) * 100 : 100);
    const energy = Math.round(this.wired.energy() / 10);
    const counter = (n: number) => [(n >>> 16) & 0xffff, n & 0xffff];
    const none = (count: number) => new Array<number>(count).fill(NOT_THERE);
    const zero = (count: number) => new Array<number>(count).fill(0);
    const meter = [
      ...group(
        amperes.reduce((a, b) => a + b, 0),
        amperes,
        -2,
      ),
      s(mean, -1),
      ...volts.map((v) => s(v, -1)),
      s(mean * Math.sqrt(3), -1),
      ...volts.map((v) => s(v * Math.sqrt(3), -1)),
      -1 & 0xffff,
      s(this.wired.frequency(), -2),
      -2 & 0xffff,
      ...group(
        watts,
        each((l) => l.watts),
        1,
      ),
      ...group(apparent, apparents, 1),
      ...group(
        vars,
        each((l) => l.vars),
        1,
      ),
      ...group(
        factor(watts, apparent),
        LINES.map((l, i) => factor(flow[l].watts, apparents[i] as number)),
        -1,
      ),
      ...zero(8),
      ...counter(energy),
      ...zero(6),
      1,
      ...zero(16),
      NOT_THERE,
      ...zero(32),
      NOT_THERE,
      0,
      0,
    ];
    return [
      0x5375,
      0x6e53,
      1,
      66,
      ...text('Brindlewick', 16),
      ...text('Charger meter', 16),
      ...text('', 8),
      ...text('1.4', 8),
      ...text('BM-0203-77', 16),
      this.unit,
      NOT_THERE,
      203,
      105,
      ...meter,
      0xffff,
      0,
      ...none(0),
    ];
  }
}

function text(value: string, words: number): number[] {
  const padded = value.padEnd(words * 2, '\0');
  return Array.from(
    { length: words },
    (_, i) => (padded.charCodeAt(2 * i) << 8) | padded.charCodeAt(2 * i + 1),
  );
}
