import type { MigrationInterface, QueryRunner } from 'typeorm';

/** What flowed in and out in a page of rollups, Wh; null in pages written before, and where the page is not of a day. */
export class DaySums1764400000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE rollup_pages ADD imported DOUBLE NULL, ADD exported DOUBLE NULL');
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE rollup_pages DROP imported, DROP exported');
  }
}
