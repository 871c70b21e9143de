import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Dashboards, and how they were before they were changed. */
export class Dashboards1765900000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      `CREATE TABLE dashboards (id INT AUTO_INCREMENT PRIMARY KEY, name VARCHAR(80) NOT NULL, content MEDIUMTEXT NOT NULL,
       version INT NOT NULL, changedAt BIGINT NOT NULL, who VARCHAR(80) NOT NULL) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4`,
    );
    await runner.query(
      `CREATE TABLE dashboard_versions (id INT AUTO_INCREMENT PRIMARY KEY, dashboardId INT NOT NULL, name VARCHAR(80) NOT NULL,
       content MEDIUMTEXT NOT NULL, until BIGINT NOT NULL, who VARCHAR(80) NOT NULL, INDEX (dashboardId, until),
       FOREIGN KEY (dashboardId) REFERENCES dashboards (id) ON DELETE CASCADE) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4`,
    );
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DROP TABLE dashboard_versions');
    await runner.query('DROP TABLE dashboards');
  }
}
