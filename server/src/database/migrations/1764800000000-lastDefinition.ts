import type { MigrationInterface, QueryRunner } from 'typeorm';

/** What a value was when it was taken out of its map: without it nobody could tell what was read. */
export class LastDefinition1764800000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE points ADD lastDefinition TEXT NULL');
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE points DROP lastDefinition');
  }
}
