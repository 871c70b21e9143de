import type { MigrationInterface, QueryRunner } from 'typeorm';

/** What people say of instants, when running totals were cleared, recorded fast looks, and when the site got another time zone. */
export class Comments1765800000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      `CREATE TABLE comments (id INT AUTO_INCREMENT PRIMARY KEY, nodeId INT NOT NULL, t BIGINT NOT NULL, text VARCHAR(400) NOT NULL,
       who VARCHAR(80) NOT NULL, writtenAt BIGINT NOT NULL, version INT NOT NULL, INDEX (nodeId, t)) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4`,
    );
    await runner.query(
      `CREATE TABLE total_clearings (id INT AUTO_INCREMENT PRIMARY KEY, nodeId INT NOT NULL, kind VARCHAR(16) NOT NULL, at BIGINT NOT NULL,
       who VARCHAR(80) NOT NULL, stood DOUBLE NULL, INDEX (nodeId, kind, at)) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4`,
    );
    await runner.query(
      `CREATE TABLE fast_looks (id INT AUTO_INCREMENT PRIMARY KEY, nodeId INT NOT NULL, deviceName VARCHAR(120) NOT NULL, startedAt BIGINT NOT NULL,
       endedAt BIGINT NOT NULL, who VARCHAR(80) NOT NULL, trouble VARCHAR(400) NULL, traces MEDIUMTEXT NOT NULL, INDEX (nodeId, startedAt)) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4`,
    );
    await runner.query(
      'CREATE TABLE zone_changes (id INT AUTO_INCREMENT PRIMARY KEY, at BIGINT NOT NULL, zoneBefore VARCHAR(64) NOT NULL, zoneAfter VARCHAR(64) NOT NULL) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4',
    );
  }

  async down(runner: QueryRunner): Promise<void> {
    for (const table of ['comments', 'total_clearings', 'fast_looks', 'zone_changes'])
      await runner.query(`DROP TABLE ${table}`);
  }
}
