import type { MigrationInterface, QueryRunner } from 'typeorm';

/** What sits before a meter is described: its kind, what is printed on it, and how a Hall sensor tells its current. */
export class Transducers1765000000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      'ALTER TABLE sensings ADD kind VARCHAR(32) NULL, ADD ratedCurrent DOUBLE NULL, ADD accuracyClass VARCHAR(8) NULL, ADD `signal` VARCHAR(8) NULL',
    );
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(
      'ALTER TABLE sensings DROP kind, DROP ratedCurrent, DROP accuracyClass, DROP `signal`',
    );
  }
}
