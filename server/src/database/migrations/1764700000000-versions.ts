import type { MigrationInterface, QueryRunner } from 'typeorm';

const TABLES = [
  'sites',
  'links',
  'devices',
  'installation_nodes',
  'virtual_meters',
  'switches',
  'cut_off_rules',
  'alert_rules',
];

/** A version for whatever can be edited, so that of two who save the second is told. */
export class Versions1764700000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    for (const table of TABLES) await runner.query(`ALTER TABLE ${table} ADD version INT NOT NULL DEFAULT 1`);
  }

  async down(runner: QueryRunner): Promise<void> {
    for (const table of TABLES) await runner.query(`ALTER TABLE ${table} DROP version`);
  }
}
