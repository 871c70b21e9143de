import type { MigrationInterface, QueryRunner } from 'typeorm';

/** As what kind of quantity the past of a point has been worked out; null where that is not known. */
export class PointKind1764500000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE points ADD kind VARCHAR(10) NULL');
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE points DROP kind');
  }
}
