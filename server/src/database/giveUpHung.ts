import type { DataSource } from 'typeorm';

type Callback = (error: { code?: string } | null, ...rest: unknown[]) => void;

/** What is used of a connection of the driver's pool. */
interface PooledConnection {
  query(...args: unknown[]): unknown;
  destroy(): void;
}

interface Pool {
  on(event: 'acquire', listener: (connection: PooledConnection) => void): void;
}

const guarded = new WeakSet<PooledConnection>();

/**
 * Gives up connections on which a query has not been answered in time. The driver leaves them as they are, and whatever
 * is asked next on one would wait behind the query that hangs, without any limit of its own.
 */
export function giveUpHungConnections(db: DataSource): void {
  const { pool } = db.driver as unknown as { pool: Pool };
  pool.on('acquire', (connection) => {
    if (guarded.has(connection)) return;
    guarded.add(connection);
    const query = connection.query.bind(connection);
    connection.query = (...args: unknown[]) => {
      const done = args.at(-1);
      if (typeof done !== 'function') return query(...args);
      const watched: Callback = (error, ...rest) => {
        if (error?.code === 'PROTOCOL_SEQUENCE_TIMEOUT') connection.destroy();
        (done as Callback)(error, ...rest);
      };
      return query(...args.slice(0, -1), watched);
    };
  });
}
