import type { WordsRead, WordsReadInput } from '@loka/contract/acquisition';
import {
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
const READS = 4;
const PAUSE = 600;
const LONGEST_RANGE = 100;
/** Addresses of a range that are read at a time. */
const PIECE = 50;

/** Reads words around an address a few times, so that what they mean can be found out from how they move. */
@Injectable()
export class WordsService {
  constructor(private readonly acquisition: AcquisitionService) {}

  async read({ linkId, unit, address, last = address }: WordsReadInput): Promise<WordsRead> {
    if (last < address || last - address >= LONGEST_RANGE)
      throw invalidField('last', `A range runs upwards, over at most ${LONGEST_RANGE} addresses.`);
    const link = await this.acquisition.modbusLink(linkId);
    const spans: Span[] = [];
    const failures: WordsRead['failures'] = [];
    for (const kind of KINDS) {
      try {
        for (let from = address; from <= last; from += PIECE)
          spans.push(await this.widest(link, unit, kind, from, Math.min(last, from + PIECE - 1)));
      } catch (error) {
        if (!(error instanceof LinkFault)) throw error;
        failures.push({ kind, message: error.message });
        if (error.fault.exception === null) break; // nothing answers: the other kind would not either
      }
    }
    const snapshots: Snapshots[] = spans.map(({ kind, start }) => ({ kind, start, reads: [] }));
    // A fault between two reads is the person's to see; half a result would be misleading.
    for (let i = 0; i < READS && spans.length > 0; i++) {
      if (i > 0) await new Promise((resolve) => setTimeout(resolve, PAUSE));
      for (const [j, span] of spans.entries())
        snapshots[j]?.reads.push(await this.acquisition.readOnce(link, unit, span));
    }
    return { snapshots, failures };
  }

  /** The widest span around the address that the device gives; it may have less than a 64-bit value would take. */
  private async widest(
    link: LinkEntity,
    unit: number,
    kind: RegisterKind,
    address: number,
    last: number,
  ): Promise<Span> {
    const low = Math.max(0, address - WORDS_BEFORE);
    const high = Math.min(65536, last + WORDS_AFTER);
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
