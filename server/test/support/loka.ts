import type { NestExpressApplication } from '@nestjs/platform-express';
import { randomBytes } from 'node:crypto';
import { mkdtempSync, rmSync } from 'node:fs';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import mysql from 'mysql2/promise';
import { PATIENCE } from '../../../scripts/jest/patience.mjs';
import { createApp } from '../../src/app.js';
import type { Config } from '../../src/config.js';

/** A running Loka of a test, on a database of its own. */
export class Loka {
  private constructor(
    readonly app: NestExpressApplication,
    readonly base: string,
    readonly config: Config,
    readonly sql: mysql.Pool,
  ) {}

  /** @param keep a configuration of an earlier one, to start again on the same data; @param more what the owner sets */
  static async start(keep?: Config, more: Partial<Config> = {}): Promise<Loka> {
    const { LOKA_DB_PORT: port, LOKA_DB_PASSWORD: password } = process.env;
    const database = keep?.database ?? {
      host: '127.0.0.1',
      port: Number(port),
      user: 'loka',
      password: password ?? '',
      name: `loka_${randomBytes(6).toString('hex')}`,
    };
    const config: Config = keep ?? {
      port: 0,
      dataFolder: mkdtempSync(join(tmpdir(), 'loka-data-')),
      webFolder: null,
      allowedNetworks: null,
      acquire: true,
      database,
      ...more,
    };
    const { name, timeoutMs: _, ...server } = database;
    const admin = await mysql.createConnection(server);
    await admin.query(`CREATE DATABASE IF NOT EXISTS ${name}`);
    await admin.end();
    const app = await createApp(config, false);
    await app.listen(0, '127.0.0.1');
    const { port: httpPort } = app.getHttpServer().address() as AddressInfo;
    return new Loka(
      app,
      `http://127.0.0.1:${httpPort}`,
      config,
      mysql.createPool({ ...server, database: name }),
    );
  }

  /** A configuration on a MariaDB of the test's own. */
  static on({ port, password }: { port: number; password: string }, name: string): Config {
    return {
      port: 0,
      dataFolder: mkdtempSync(join(tmpdir(), 'loka-data-')),
      webFolder: null,
      allowedNetworks: null,
      acquire: true,
      database: { host: '127.0.0.1', port, user: 'loka', password, name },
    };
  }

  /** Stops it; the data stay for another start. */
  async halt(): Promise<void> {
    await this.sql.end();
    await this.app.close();
  }

  async stop(): Promise<void> {
    await this.sql.query(`DROP DATABASE ${this.config.database.name}`).catch(() => undefined);
    await this.halt();
    rmSync(this.config.dataFolder, { recursive: true, force: true });
  }

  /** Asks the interface; fails the test unless it answers with success. */
  async ask<T>(path: string, method = 'GET', body?: unknown): Promise<T> {
    const { status, body: answer } = await this.raw(path, method, body);
    if (status >= 300) throw new Error(`${method} ${path} answered ${status}: ${JSON.stringify(answer)}`);
    return answer as T;
  }

  /** Asks the interface and gives whatever comes back. */
  async raw(
    path: string,
    method = 'GET',
    body?: unknown,
    headers: Record<string, string> = {},
  ): Promise<{ status: number; body: unknown; type: string }> {
    const response = await fetch(`${this.base}/api${path}`, {
      method,
      headers: { ...(body === undefined ? {} : { 'content-type': 'application/json' }), ...headers },
      body: body === undefined ? null : JSON.stringify(body),
    });
    const text = await response.text();
    const type = response.headers.get('content-type') ?? '';
    return { status: response.status, body: type.includes('json') ? JSON.parse(text) : text, type };
  }
}

/**
 * Waits until a condition holds, asking again and again; fails with `what` when it does not.
 * @param ms what that needs at most on a machine that does nothing else
 */
export async function until<T>(
  what: string,
  condition: () => Promise<T | false | null | undefined> | T | false | null | undefined,
  ms = 20_000,
): Promise<T> {
  const limit = ms * PATIENCE;
  const end = Date.now() + limit;
  for (;;) {
    const result = await condition();
    if (result !== false && result !== null && result !== undefined) return result;
    if (Date.now() > end) throw new Error(`${what}: not within ${limit} ms`);
    await new Promise((resolve) => setTimeout(resolve, 40));
  }
}
