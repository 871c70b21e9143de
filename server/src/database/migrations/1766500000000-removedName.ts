import type { MigrationInterface, QueryRunner } from 'typeorm';

/** What was removed by a change is called by its name also when it is gone. */
export class RemovedName1766500000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE audit ADD name VARCHAR(200) NULL');
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE audit DROP name');
  }
}
