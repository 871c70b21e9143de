import type { LinkInput } from '@loka/contract/links';
import type modbus from 'modbus-serial';
import type { EventEmitter } from 'node:events';

type Client = InstanceType<(typeof modbus)['default']>;

/** How the library names a unit that gives no answer. */
export const TIMED_OUT = 'TransactionTimedOutError';
/** An answer that may be that to an earlier question. */
export const OUT_OF_STEP = 'OUT_OF_STEP';
/** An answer may be later than its time-out by this many more of them. */
const LATEST = 4;
/** A unit that has not answered more often than this in a row is dead. */
const ALIVE = 2;
/** A line is quiet when nothing has come for this time, ms: longer than the pause within a frame at any speed. */
const QUIET = 50;
/** A wait that ends later than this has not listened all the time, ms: what has come meanwhile is still to be read. */
const STALLED = 20;
/** The shortest frame of RTU, in bytes: an exception. */
const SHORTEST = 5;

/** What the library keeps a line in. */
interface Port {
  /** The socket, or the serial port. */
  _client?: EventEmitter;
  /** What has come and has not been taken for an answer. */
  _buffer?: Buffer;
}
const portOf = (client: Client): Port | undefined => (client as unknown as { _port?: Port })._port;

/**
 * Keeps questions and answers in step where a frame does not say which question it answers (RTU): one that comes late
 * would be taken for the answer to the next question, and so would each that follows. A unit answers one question after
 * the other; so when an answer is followed by silence, none is owed any more.
 */
export class Step {
  private settling: { unit: number; heard: Promise<Buffer> } | null = null;
  /** How often in a row a unit has not answered. */
  private readonly silences = new Map<number, number>();
  /** The units that may still answer a question that has been given up. */
  private readonly owing = new Set<number>();
  /** The units that have answered late before. */
  private readonly slow = new Set<number>();

  constructor(private readonly address: Pick<LinkInput, 'kind' | 'timeoutMs'>) {}

  /** Before a question: waits for what may come late, and throws away what was not asked for. */
  async ready(client: Client): Promise<void> {
    if (this.settling) {
      const { unit, heard } = this.settling;
      // One late answer has come; how many questions are still open, nobody knows.
      if ((await heard).length >= SHORTEST) this.slow.add(unit);
      this.settling = null;
    }
    drain(client);
  }

  /** A unit has not answered in time. */
  unanswered(client: Client, unit: number): void {
    const { kind, timeoutMs } = this.address;
    const silent = (this.silences.get(unit) ?? 0) + 1;
    this.silences.set(unit, silent);
    this.owing.add(unit);
    // Nobody asks anything until what comes late has come, and is thrown away. A unit that has been late before is waited
    // for longer; of the others an answer was lost, or they are dead, and the rest of the line waits no longer than it must.
    const patience = this.slow.has(unit) && silent <= ALIVE ? LATEST : 1;
    if (kind === 'modbus-serial') this.settling = { unit, heard: listen(client, timeoutMs * patience) };
  }

  /** A unit has answered. @throws an error with the code OUT_OF_STEP when nobody knows which question */
  async answered(client: Client, unit: number): Promise<void> {
    this.silences.delete(unit);
    if (!this.owing.has(unit)) return;
    const more = await listen(client, this.address.timeoutMs * LATEST);
    drain(client);
    if (more.length >= SHORTEST) {
      this.slow.add(unit);
      throw Object.assign(
        new Error('it answered more often than it was asked, so an earlier answer has come late'),
        { code: OUT_OF_STEP },
      );
    }
    this.owing.delete(unit);
  }
}

/** What comes over the line until it is quiet again after a frame has come, or for so many milliseconds. Less than a frame is noise. */
function listen(client: Client, longest: number): Promise<Buffer> {
  const line = portOf(client)?._client;
  const until = performance.now() + longest;
  let bytes: Buffer = Buffer.alloc(0);
  return new Promise((resolve) => {
    let timer: NodeJS.Timeout | undefined;
    const wait = (ms: number) => {
      clearTimeout(timer);
      const due = performance.now() + ms;
      timer = setTimeout(() => (performance.now() > due + STALLED ? wait(QUIET) : end()), ms);
    };
    const end = () => {
      line?.off('data', heard);
      resolve(bytes);
    };
    const heard = (data: Buffer) => {
      bytes = Buffer.concat([bytes, data]);
      if (bytes.length >= SHORTEST) wait(Math.max(0, Math.min(QUIET, until - performance.now())));
    };
    line?.on('data', heard);
    wait(longest);
  });
}

function drain(client: Client): void {
  const port = portOf(client);
  if (port?._buffer) port._buffer = Buffer.alloc(0);
}
