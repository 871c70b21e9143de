import { mkdirSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import mysql from 'mysql2/promise';
import { startMariadb, type RunningMariadb } from '../../../scripts/lib/mariadb.mjs';
import { freePort } from '../../../scripts/lib/ports.mjs';
import { start, type StartedProcess } from '../../../scripts/lib/processes.mjs';

const SERVER = new URL('../../dist/main.js', import.meta.url).pathname;

/** A Loka and its MariaDB as processes of their own, to be killed and started again on the same data. */
export class Crashing {
  private server: StartedProcess | null = null;

  private constructor(
    private readonly folder: string,
    readonly database: RunningMariadb,
    readonly base: string,
    private readonly port: number,
  ) {}

  /** The database waits for the disk at each commit: what it has taken, it has. */
  static async start(): Promise<Crashing> {
    const folder = mkdtempSync(join(tmpdir(), 'loka-crash-'));
    mkdirSync(join(folder, 'data'));
    const database = await startMariadb(folder, { databases: ['loka_crash'] });
    const port = (await freePort()) as number;
    const crashing = new Crashing(folder, database, `http://127.0.0.1:${port}`, port);
    await crashing.startServer();
    return crashing;
  }

  /** @param more settings other than its own */
  async startServer(more: Record<string, string> = {}): Promise<void> {
    this.server = await start(process.execPath, [SERVER], {
      what: 'the server',
      ready: /loka ready/,
      env: {
        ...this.database.env,
        LOKA_DB_NAME: 'loka_crash',
        LOKA_DATA: join(this.folder, 'data'),
        LOKA_PORT: String(this.port),
        NODE_OPTIONS: '',
        ...more,
      },
      logFile: join(this.folder, 'server.log'),
    });
  }

  killServer(): Promise<void> {
    return (this.server as StartedProcess).kill();
  }

  /** Asks the server to stop. @returns how long that took, ms */
  async stopServer(): Promise<number> {
    const began = performance.now();
    await (this.server as StartedProcess).stop();
    return performance.now() - began;
  }

  log(): string {
    return readFileSync(join(this.folder, 'server.log'), 'utf8');
  }

  sql(): Promise<mysql.Connection> {
    return mysql.createConnection({
      host: '127.0.0.1',
      port: this.database.port,
      user: 'loka',
      password: this.database.password,
      database: 'loka_crash',
    });
  }

  async ask<T>(
    path: string,
    method = 'GET',
    body?: unknown,
    headers: Record<string, string> = {},
  ): Promise<T> {
    const response = await fetch(`${this.base}/api${path}`, {
      method,
      headers: { ...(body === undefined ? {} : { 'content-type': 'application/json' }), ...headers },
      body: body === undefined ? null : JSON.stringify(body),
    });
    const text = await response.text();
    if (!response.ok) throw new Error(`${method} ${path} answered ${response.status}: ${text}`);
    return (text ? JSON.parse(text) : null) as T;
  }

  async stop(): Promise<void> {
    await this.server?.stop();
    await this.database.stop();
    rmSync(this.folder, { recursive: true, force: true });
  }
}

/** Numbers between 0 and 1 that are the same every time (a linear congruential generator). */
export function seeded(seed: number): () => number {
  let state = seed;
  return () => (state = (state * 1103515245 + 12345) % 2 ** 31) / 2 ** 31;
}
