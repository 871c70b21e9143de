import type { MigrationInterface, QueryRunner } from 'typeorm';

/** What is set inside the devices, what is wanted of it, and what was written. */
export class Settings1765100000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`CREATE TABLE device_settings (
      pointId INT NOT NULL PRIMARY KEY,
      wanted DOUBLE NULL,
      value DOUBLE NULL,
      readAt BIGINT NULL,
      \`before\` DOUBLE NULL,
      changedAt BIGINT NULL
    )`);
    await runner.query(`CREATE TABLE setting_changes (
      id INT NOT NULL AUTO_INCREMENT PRIMARY KEY,
      deviceId INT NOT NULL,
      pointId INT NOT NULL,
      at BIGINT NOT NULL,
      who VARCHAR(80) NOT NULL,
      \`before\` DOUBLE NOT NULL,
      value DOUBLE NOT NULL,
      \`after\` DOUBLE NULL,
      KEY byDevice (deviceId, at)
    )`);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DROP TABLE setting_changes');
    await runner.query('DROP TABLE device_settings');
  }
}
