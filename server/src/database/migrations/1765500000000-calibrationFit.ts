import type { MigrationInterface, QueryRunner } from 'typeorm';

/** How certain a calibration is, is kept with it. */
export class CalibrationFit1765500000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE calibrations ADD fit JSON NULL');
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE calibrations DROP COLUMN fit');
  }
}
