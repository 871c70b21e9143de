import { mkdirSync } from 'node:fs';
import { join, resolve } from 'node:path';

/** What the owner decides from outside; every member comes from the environment. */
export interface Config {
  port: number;
  /** Where Loka keeps its own files: the spool. */
  dataFolder: string;
  /** The built screens, or null to serve the interface for programs only. */
  webFolder: string | null;
  /** Networks in CIDR form that links may reach; null for loopback and the machine's own subnets. */
  allowedNetworks: string[] | null;
  /** Beginnings of the device files that serial links may use; null for the usual serial ports. */
  allowedSerial?: string[] | null;
  /** Address to listen at; from elsewhere only the push door may be used. */
  host?: string;
  /** Whether this process polls the devices; off for one that only brings in data. */
  acquire: boolean;
  database: {
    host: string;
    port: number;
    user: string;
    password: string;
    name: string;
    /** A query that takes longer has failed, ms; 10 s where it is not said. */
    timeoutMs?: number;
  };
}

/** Thrown when a setting cannot be used. */
export class ConfigError extends Error {
  override name = 'ConfigError';
}

/** Reads the settings. @throws ConfigError */
export function readConfig(env: Record<string, string | undefined>): Config {
  const port = (name: string, fallback: number): number => {
    const value = Number(env[name] ?? fallback);
    if (!Number.isInteger(value) || value < 0 || value > 65535)
      throw new ConfigError(`${name}=${env[name]} is not a port (0–65535)`);
    return value;
  };
  const dataFolder = resolve(env.LOKA_DATA ?? 'var/data');
  mkdirSync(join(dataFolder, 'spool'), { recursive: true });
  return {
    port: port('LOKA_PORT', 8420),
    dataFolder,
    webFolder: env.LOKA_WEB ? resolve(env.LOKA_WEB) : null,
    allowedNetworks: env.LOKA_ALLOWED_NETWORKS
      ? env.LOKA_ALLOWED_NETWORKS.split(',').map((n) => n.trim())
      : null,
    allowedSerial: env.LOKA_ALLOWED_SERIAL ? env.LOKA_ALLOWED_SERIAL.split(',').map((p) => p.trim()) : null,
    host: env.LOKA_HOST ?? '127.0.0.1',
    acquire: env.LOKA_ACQUIRE !== '0',
    database: {
      host: env.LOKA_DB_HOST ?? '127.0.0.1',
      port: port('LOKA_DB_PORT', 3306),
      user: env.LOKA_DB_USER ?? 'loka',
      password: env.LOKA_DB_PASSWORD ?? '',
      name: env.LOKA_DB_NAME ?? 'loka',
    },
  };
}

/** Injection token of the configuration. */
export const CONFIG = Symbol('config');
