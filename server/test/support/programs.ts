import { fileURLToPath } from 'node:url';
import { execFile, spawn, type ChildProcess } from 'node:child_process';
import { closeSync, constants, mkdtempSync, openSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { promisify } from 'node:util';
import { freePort, listens } from '../../../scripts/lib/ports.mjs';
import { until } from './loka.js';

export const run = promisify(execFile);

/** Debian's own python3, for which its packages are installed; another one may come first on the path. */
const PYTHON = '/usr/bin/python3';
const DEVICE = fileURLToPath(new URL('pymodbusDevice.py', import.meta.url));

/** A program of the machine that runs beside a test. */
export class Program {
  /** Everything that it has printed. */
  said = '';
  private constructor(private readonly child: ChildProcess) {
    for (const stream of [child.stdout, child.stderr])
      stream?.on('data', (d: Buffer) => (this.said += d.toString()));
  }

  /** Starts a program, and waits until it has said something that shows it to be ready. */
  static async start(
    command: string,
    args: string[],
    ready: RegExp | (() => Promise<boolean>),
  ): Promise<Program> {
    const program = new Program(spawn(command, args, { stdio: ['ignore', 'pipe', 'pipe'] }));
    await until(`${command} ready`, async () => {
      if (program.child.exitCode !== null) throw new Error(`${command} ended: ${program.said}`);
      return typeof ready === 'function' ? await ready() : ready.test(program.said);
    });
    return program;
  }

  async stop(): Promise<void> {
    if (this.child.exitCode !== null || this.child.signalCode !== null) return;
    const ended = new Promise<void>((resolve) => this.child.once('exit', () => resolve()));
    this.child.kill('SIGKILL');
    await ended;
  }
}

/** A meter made with pymodbus, over TCP with either framing. */
export async function pymodbusOverTcp(kind: 'tcp' | 'rtu-tcp'): Promise<{ port: number; program: Program }> {
  const port = await freePort();
  const program = await Program.start(PYTHON, [DEVICE, kind, String(port)], () => listens(port));
  return { port, program };
}

/**
 * A pair of pseudo-terminals that are joined like a serial cable, with a pymodbus meter at the far end. Its serial
 * server does not answer in Debian's version (mbpoll gets no answer from it either), so the far end leads to its RTU
 * framing over TCP: on the line are the same bytes.
 */
export async function pymodbusOnSerialLine(): Promise<{
  path: string;
  programs: { stop(): Promise<void> }[];
}> {
  const meter = await pymodbusOverTcp('rtu-tcp');
  const cable = await Program.start(
    'socat',
    ['-d', '-d', 'pty,raw,echo=0', 'pty,raw,echo=0'],
    /starting data transfer loop/,
  );
  const [near, far] = [...cable.said.matchAll(/PTY is (\S+)/g)].map((m) => m[1]) as [string, string];
  const end = await Program.start(
    'socat',
    ['-d', '-d', `FILE:${far},raw,echo=0`, `TCP:127.0.0.1:${meter.port}`],
    /starting data transfer loop/,
  );
  // A pseudo-terminal goes with the last one who closes it; a serial port stays. So somebody holds it.
  const held = openSync(near, constants.O_RDWR | constants.O_NOCTTY);
  const holder = { stop: async () => closeSync(held) };
  return { path: near, programs: [end, cable, meter.program, holder] };
}

/** Debian's mosquitto as broker; with TLS and a password on a second port. */
export class Mosquitto {
  private constructor(
    readonly port: number,
    readonly securePort: number,
    readonly certificate: string,
    private program: Program,
    private readonly folder: string,
  ) {}

  static async start(): Promise<Mosquitto> {
    const folder = mkdtempSync(join(tmpdir(), 'loka-mosquitto-'));
    const [port, securePort] = [await freePort(), await freePort()];
    const file = (name: string) => join(folder, name);
    await run('openssl', [
      'req',
      '-x509',
      '-newkey',
      'rsa:2048',
      '-nodes',
      '-days',
      '2',
      '-subj',
      '/CN=localhost',
      '-addext',
      'subjectAltName=DNS:localhost',
      '-keyout',
      file('key.pem'),
      '-out',
      file('cert.pem'),
    ]);
    await run('mosquitto_passwd', ['-b', '-c', file('passwords'), 'meter', 'kept secret']);
    writeFileSync(
      file('conf'),
      [
        'per_listener_settings true',
        'user root',
        'max_queued_messages 0',
        `listener ${port} 127.0.0.1`,
        'allow_anonymous true',
        `listener ${securePort} 127.0.0.1`,
        `password_file ${file('passwords')}`,
        `certfile ${file('cert.pem')}`,
        `keyfile ${file('key.pem')}`,
        '',
      ].join('\n'),
    );
    const certificate = readFileSync(file('cert.pem'), 'utf8');
    const program = await Program.start('mosquitto', ['-c', file('conf')], () => listens(port));
    return new Mosquitto(port, securePort, certificate, program, folder);
  }

  /** Publishes with mosquitto's own client. */
  async publish(topic: string, payload: string, ...more: string[]): Promise<void> {
    await run('mosquitto_pub', ['-p', String(this.port), '-t', topic, '-m', payload, ...more]);
  }

  /** Publishes a message of any length and any bytes, QoS 1. */
  async publishFile(topic: string, payload: string): Promise<void> {
    const file = join(this.folder, 'message');
    writeFileSync(file, payload);
    await run('mosquitto_pub', ['-p', String(this.port), '-t', topic, '-q', '1', '-f', file]);
  }

  /** Publishes one message a line, QoS 1, as they come and as fast as mosquitto's client can. */
  async publishLines(topic: string, lines: Iterable<string> | AsyncIterable<string>): Promise<void> {
    const client = spawn('mosquitto_pub', ['-p', String(this.port), '-t', topic, '-q', '1', '-l']);
    const ended = new Promise<void>((resolve, reject) => {
      client.once('error', reject);
      client.once('close', (code) =>
        code === 0 ? resolve() : reject(new Error(`mosquitto_pub ended with ${code}`)),
      );
    });
    const written = pipeline(
      Readable.from(lines),
      async function* (each) {
        for await (const line of each) yield `${line}\n`;
      },
      client.stdin,
    );
    await Promise.all([written, ended]);
  }

  /** Stops the broker as a power cut would; it comes back with {@link again}. */
  async halt(): Promise<void> {
    await this.program.stop();
  }

  async again(): Promise<void> {
    this.program = await Program.start('mosquitto', ['-c', join(this.folder, 'conf')], () =>
      listens(this.port),
    );
  }

  async stop(): Promise<void> {
    await this.program.stop();
    rmSync(this.folder, { recursive: true, force: true });
  }
}
