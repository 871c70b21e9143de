import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Which point measures the temperature outside. */
export class OutdoorPoint1766400000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE sites ADD outdoorPointId INT NULL');
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE sites DROP outdoorPointId');
  }
}
