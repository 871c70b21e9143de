import type { MigrationInterface, QueryRunner } from 'typeorm';

/** How the lines of the supply stand to one another: three, or the two halves of a split-phase supply. */
export class SupplySystem1765200000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query("ALTER TABLE sites ADD supplySystem VARCHAR(16) NOT NULL DEFAULT 'three-phase'");
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE sites DROP supplySystem');
  }
}
