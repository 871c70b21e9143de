import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Energy reports that are kept as they were made. */
export class KeptReports1766300000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      `CREATE TABLE kept_reports (id INT AUTO_INCREMENT PRIMARY KEY, nodeId INT NOT NULL, place VARCHAR(120) NOT NULL,
       period VARCHAR(60) NOT NULL, fromAt BIGINT NOT NULL, toAt BIGINT NOT NULL, madeAt BIGINT NOT NULL, who VARCHAR(80) NULL,
       monthly VARCHAR(7) NULL UNIQUE, removedAt BIGINT NULL, content MEDIUMTEXT NOT NULL) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4`,
    );
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DROP TABLE kept_reports');
  }
}
