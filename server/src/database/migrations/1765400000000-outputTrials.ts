import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Relays that were operated briefly to see which circuit moves with them. */
export class OutputTrials1765400000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`CREATE TABLE output_trials (
      id INT NOT NULL AUTO_INCREMENT PRIMARY KEY,
      switchId INT NOT NULL,
      startedAt BIGINT NOT NULL,
      who VARCHAR(80) NOT NULL,
      closedBefore TINYINT NOT NULL,
      backAt BIGINT NULL,
      endedAt BIGINT NULL,
      result TEXT NULL,
      trouble VARCHAR(400) NOT NULL,
      KEY bySwitch (switchId, id)
    )`);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DROP TABLE output_trials');
  }
}
