import type { MigrationInterface, QueryRunner } from 'typeorm';

const TABLES: Record<string, string> = {
  rollup_pages: `pointId INT UNSIGNED NOT NULL, level TINYINT UNSIGNED NOT NULL, start BIGINT NOT NULL, flow BLOB NOT NULL, shape BLOB NOT NULL,
    counts BLOB NULL, PRIMARY KEY (pointId, level, start)`,
  rollup_due: `pointId INT UNSIGNED NOT NULL, minute BIGINT NOT NULL, gen INT UNSIGNED NOT NULL DEFAULT 1, PRIMARY KEY (pointId, minute), KEY (minute)`,
  counter_states: `pointId INT UNSIGNED NOT NULL, hour BIGINT NOT NULL, state TEXT NOT NULL, PRIMARY KEY (pointId, hour)`,
  counter_spans: `pointId INT UNSIGNED NOT NULL, until BIGINT NOT NULL, since BIGINT NOT NULL, increment DOUBLE NOT NULL, sure TINYINT NOT NULL,
    PRIMARY KEY (pointId, until)`,
  counter_exchanges: `pointId INT UNSIGNED NOT NULL, t BIGINT NOT NULL, \`before\` DOUBLE NOT NULL, \`after\` DOUBLE NOT NULL, who VARCHAR(80) NOT NULL,
    at BIGINT NOT NULL, PRIMARY KEY (pointId, t)`,
  doubts: `pointId INT UNSIGNED NOT NULL, t BIGINT NOT NULL, kind VARCHAR(12) NOT NULL, until BIGINT NOT NULL, \`before\` DOUBLE NULL,
    \`after\` DOUBLE NULL, counted DOUBLE NULL, readings INT UNSIGNED NOT NULL, PRIMARY KEY (pointId, t, kind)`,
  verdicts: `id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY, pointId INT UNSIGNED NOT NULL, since BIGINT NOT NULL, until BIGINT NOT NULL,
    counts TINYINT NOT NULL, who VARCHAR(80) NOT NULL, at BIGINT NOT NULL, KEY (pointId, since)`,
  sensings: `id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY, pointId INT UNSIGNED NOT NULL, validFrom BIGINT NOT NULL, ratio DOUBLE NOT NULL,
    turns INT NOT NULL, reversed TINYINT NOT NULL, burden DOUBLE NULL, nominalVoltage DOUBLE NULL, who VARCHAR(80) NOT NULL, at BIGINT NOT NULL,
    UNIQUE (pointId, validFrom), FOREIGN KEY (pointId) REFERENCES points (id)`,
};

/**
 * Rollups as packed pages, what is due for them, counters followed reading by reading, what people have said of readings,
 * and what sits before the meter. Rollups of what is there already are made again by the job that finds its work in
 * `rebuilds`; until it is done, they are missing.
 */
export class SeriesFloor1764300000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    for (const [name, columns] of Object.entries(TABLES))
      await runner.query(`CREATE TABLE ${name} (${columns}) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4`);
    await runner.query('ALTER TABLE samples ADD lag INT UNSIGNED NULL');
    await runner.query(
      'ALTER TABLE points ADD counterModulus DOUBLE NULL, ADD counterResolution DOUBLE NULL, ADD largestPower DOUBLE NULL',
    );
    await runner.query('ALTER TABLE rebuilds MODIFY calibrationId INT UNSIGNED NULL');
    await runner.query('DELETE FROM rebuilds');
    // By point, so that only the ends of the index are looked at.
    await runner.query(
      `INSERT INTO rebuilds (pointId, calibrationId, start, end, done)
       SELECT id, NULL, first, last + 60000, first FROM (SELECT id, (SELECT MIN(t) FROM samples WHERE pointId = p.id) AS first,
         (SELECT MAX(t) FROM samples WHERE pointId = p.id) AS last FROM points p) AS extents WHERE first IS NOT NULL`,
    );
    await runner.query('DROP TABLE rollups_1m');
  }

  /** Samples stay; rollups are not brought back, because an earlier Loka makes only those of new readings. */
  async down(runner: QueryRunner): Promise<void> {
    await runner.query(
      `CREATE TABLE rollups_1m (pointId INT UNSIGNED NOT NULL, t BIGINT NOT NULL, min DOUBLE NOT NULL, max DOUBLE NOT NULL, mean DOUBLE NOT NULL,
        count INT UNSIGNED NOT NULL, covered INT UNSIGNED NOT NULL, last DOUBLE NOT NULL, PRIMARY KEY (pointId, t)) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4`,
    );
    await runner.query('DELETE FROM rebuilds');
    await runner.query('ALTER TABLE rebuilds MODIFY calibrationId INT UNSIGNED NOT NULL');
    await runner.query('ALTER TABLE points DROP counterModulus, DROP counterResolution, DROP largestPower');
    await runner.query('ALTER TABLE samples DROP lag');
    for (const name of Object.keys(TABLES).reverse()) await runner.query(`DROP TABLE ${name}`);
  }
}
