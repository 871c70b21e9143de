import type { MigrationInterface, QueryRunner } from 'typeorm';

/** On which days the site is closed. */
export class ClosedDays1766200000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      "ALTER TABLE sites ADD closedDays VARCHAR(40) NOT NULL DEFAULT '[6,7]', ADD holidays TEXT NOT NULL DEFAULT '[]'",
    );
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE sites DROP closedDays, DROP holidays');
  }
}
