import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Reference instruments; corrections with bends and a floor; who made a calibration, when the next one is due, of which it is a copy. */
export class Instruments1765600000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`CREATE TABLE instruments (
      id INT NOT NULL AUTO_INCREMENT PRIMARY KEY,
      name VARCHAR(60) NOT NULL,
      serial VARCHAR(60) NOT NULL,
      percent DOUBLE NOT NULL,
      certificate VARCHAR(120) NOT NULL,
      calibratedOn VARCHAR(10) NULL,
      dueOn VARCHAR(10) NULL,
      version INT NOT NULL,
      removedAt BIGINT NULL
    )`);
    await runner.query(
      "ALTER TABLE calibrations ADD who VARCHAR(80) NOT NULL DEFAULT '', ADD dueAt BIGINT NULL, ADD copiedFrom INT NULL, ADD knots JSON NULL, ADD noLoad DOUBLE NULL, ADD displacement DOUBLE NULL",
    );
    await runner.query(
      'ALTER TABLE corrections ADD knots JSON NULL, ADD noLoad DOUBLE NULL, ADD displacement DOUBLE NULL',
    );
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(
      'ALTER TABLE corrections DROP COLUMN knots, DROP COLUMN noLoad, DROP COLUMN displacement',
    );
    await runner.query(
      'ALTER TABLE calibrations DROP COLUMN who, DROP COLUMN dueAt, DROP COLUMN copiedFrom, DROP COLUMN knots, DROP COLUMN noLoad, DROP COLUMN displacement',
    );
    await runner.query('DROP TABLE instruments');
  }
}
