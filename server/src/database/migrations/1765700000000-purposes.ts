import type { MigrationInterface, QueryRunner } from 'typeorm';

/** What places are for, what a storage holds, and what a kilowatt-hour costs. */
export class Purposes1765700000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      'ALTER TABLE installation_nodes ADD purpose VARCHAR(16) NULL, ADD storageCapacity DOUBLE NULL',
    );
    await runner.query(
      "ALTER TABLE sites ADD currency VARCHAR(3) NOT NULL DEFAULT 'EUR', ADD price DOUBLE NULL, ADD carbon DOUBLE NULL",
    );
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE installation_nodes DROP purpose, DROP storageCapacity');
    await runner.query('ALTER TABLE sites DROP currency, DROP price, DROP carbon');
  }
}
