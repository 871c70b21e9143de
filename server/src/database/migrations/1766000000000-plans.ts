import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Floor plans. */
export class Plans1766000000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      `CREATE TABLE plans (id INT AUTO_INCREMENT PRIMARY KEY, name VARCHAR(80) NOT NULL, content MEDIUMTEXT NOT NULL,
       version INT NOT NULL, changedAt BIGINT NOT NULL, who VARCHAR(80) NOT NULL) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4`,
    );
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DROP TABLE plans');
  }
}
