import { Readable } from 'node:stream';
import type { DataSource } from 'typeorm';

interface RawConnection {
  query(
    options: { sql: string; infileStreamFactory: () => Readable },
    done: (error: Error | null) => void,
  ): void;
}

/**
 * Loads many rows at once with LOAD DATA, several times as fast as multi-row inserts. Rows that are there already
 * stay as they are. The server takes no file names: it only gets this stream.
 * @param lines rows of tab-separated values without a line end; \N is NULL
 */
export async function bulkLoad(
  db: DataSource,
  table: string,
  columns: readonly string[],
  lines: Iterable<string>,
): Promise<void> {
  const runner = db.createQueryRunner();
  const stream = Readable.from(chunks(lines));
  try {
    const connection = (await runner.connect()) as RawConnection;
    const sql = `LOAD DATA LOCAL INFILE 'stream' IGNORE INTO TABLE ${table} FIELDS TERMINATED BY '\\t' LINES TERMINATED BY '\\n' (${columns.join(', ')})`;
    await new Promise<void>((resolve, reject) => {
      stream.once('error', reject);
      connection.query({ sql, infileStreamFactory: () => stream }, (error) =>
        error ? reject(error) : resolve(),
      );
    });
  } finally {
    stream.destroy();
    await runner.release();
  }
}

function* chunks(lines: Iterable<string>): Generator<Buffer> {
  let text = '';
  for (const line of lines) {
    text += `${line}\n`;
    if (text.length > 60_000) {
      yield Buffer.from(text);
      text = '';
    }
  }
  if (text) yield Buffer.from(text);
}
