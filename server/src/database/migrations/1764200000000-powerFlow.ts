import type { MigrationInterface, QueryRunner } from 'typeorm';

/** What somebody has said of a place: whether power may flow out of it. */
export class PowerFlow1764200000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE installation_nodes ADD flow VARCHAR(4) NULL');
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE installation_nodes DROP flow');
  }
}
