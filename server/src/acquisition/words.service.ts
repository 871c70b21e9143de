import type { WordsRead, WordsReadInput } from '@loka/contract/acquisition';
import {
  MAX_WORDS,
  WORDS_AFTER,
  WORDS_BEFORE,
  type RegisterKind,
  type Span,
  type Snapshots,
} from '@loka/core/registers';
import { Injectable } from '@nestjs/common';
import type { LinkEntity } from '../book/link.entity.js';
import { invalidField } from '../problem/errors.js';
import { AcquisitionService } from './acquisition.service.js';
import { LinkFault } from './runner.js';

const KINDS: RegisterKind[] = ['holding', 'input'];
const READS = { quickly: { times: 4, pauseMs: 600 }, slowly: { times: 6, pauseMs: 3000 } };
const LONGEST_RANGE = 100;
/** Requests that a range may cost for each kind of register; what is not settled by then counts as not there. */
const MOST_REQUESTS = 80;
/** Addresses of a range that are read at a time. */
const PIECE = 50;

/** What a range has cost so far, and how it was refused first. */
interface Tally {
  requests: number;
  refusal: LinkFault | null;
}

/** Reads words around an address a few times, so that what they mean can be found out from how they move. */
@Injectable()
export class WordsService {
  constructor(private readonly acquisition: AcquisitionService) {}

  async read({ linkId, unit, address, last = address, slowly = false }: WordsReadInput): Promise<WordsRead> {
    if (last < address || last - address >= LONGEST_RANGE)
      throw invalidField('last', `A range runs upwards, over at most ${LONGEST_RANGE} addresses.`);
    const link = await this.acquisition.modbusLink(linkId);
    const spans: Span[] = [];
    const failures: WordsRead['failures'] = [];
    for (const kind of KINDS) {
      try {
        spans.push(
          ...(last > address
            ? await this.aroundGaps(link, unit, kind, address, last)
            : [await this.widest(link, unit, kind, address)]),
        );
      } catch (error) {
        if (!(error instanceof LinkFault)) throw error;
        failures.push({ kind, message: error.message });
        if (error.fault.exception === null) break; // nothing answers: the other kind would not either
      }
    }
    const snapshots: Snapshots[] = spans.map(({ kind, start }) => ({ kind, start, reads: [] }));
    // A fault between two reads is the person's to see; half a result would be misleading.
    const { times, pauseMs } = READS[slowly ? 'slowly' : 'quickly'];
    for (let i = 0; i < times && spans.length > 0; i++) {
      if (i > 0) await new Promise((resolve) => setTimeout(resolve, pauseMs));
      for (const [j, span] of spans.entries())
        snapshots[j]?.reads.push(await this.acquisition.readOnce(link, unit, span));
    }
    return { snapshots, failures };
  }

  /** The spans of a range that the device gives; registers that it does not have lie between them. */
  private async aroundGaps(
    link: LinkEntity,
    unit: number,
    kind: RegisterKind,
    first: number,
    last: number,
  ): Promise<Span[]> {
    const end = Math.min(65_536, last + WORDS_AFTER);
    const tally: Tally = { requests: 0, refusal: null };
    const given: Span[] = [];
    for (let start = first; start < end; start += PIECE)
      given.push(
        ...(await this.given(
          link,
          unit,
          { kind, start, count: Math.min(end, start + PIECE) - start },
          tally,
        )),
      );
    if (given.length === 0 && tally.refusal) throw tally.refusal;
    // A value may lie across what was asked for in two pieces.
    return given.reduce<Span[]>((joined, span) => {
      const before = joined.at(-1);
      if (before && before.start + before.count === span.start && before.count + span.count <= MAX_WORDS)
        before.count += span.count;
      else joined.push({ ...span });
      return joined;
    }, []);
  }

  /** What of a span the device gives: where it refuses the whole, its halves are asked for. */
  private async given(link: LinkEntity, unit: number, span: Span, tally: Tally): Promise<Span[]> {
    if (++tally.requests > MOST_REQUESTS) return [];
    try {
      await this.acquisition.readOnce(link, unit, span);
      return [span];
    } catch (error) {
      if (!(error instanceof LinkFault) || error.fault.exception === null) throw error;
      tally.refusal ??= error;
      if (span.count === 1) return [];
      const half = Math.ceil(span.count / 2);
      return [
        ...(await this.given(link, unit, { ...span, count: half }, tally)),
        ...(await this.given(
          link,
          unit,
          { ...span, start: span.start + half, count: span.count - half },
          tally,
        )),
      ];
    }
  }

  /** The widest span around the address that the device gives; it may have less than a 64-bit value would take. */
  private async widest(link: LinkEntity, unit: number, kind: RegisterKind, address: number): Promise<Span> {
    const low = Math.max(0, address - WORDS_BEFORE);
    const high = Math.min(65536, address + WORDS_AFTER);
    let refusal: unknown;
    for (const start of low === address ? [low] : [low, address])
      for (let end = high; end > address; end--) {
        try {
          const span = { kind, start, count: end - start };
          await this.acquisition.readOnce(link, unit, span);
          return span;
        } catch (error) {
          if (!(error instanceof LinkFault) || error.fault.exception === null) throw error;
          refusal = error;
        }
      }
    throw refusal;
  }
}
