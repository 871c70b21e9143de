import type { MigrationInterface, QueryRunner } from 'typeorm';

/** When a cut-off that sees nothing says so, or opens; alerts of other things than limits. */
export class Protection1764600000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      'ALTER TABLE cut_off_rules ADD blindAfterMs INT NOT NULL DEFAULT 60000, ADD openWhenBlind TINYINT NOT NULL DEFAULT 0',
    );
    await runner.query(
      `ALTER TABLE alerts ADD kind VARCHAR(20) NOT NULL DEFAULT 'limit', ADD source VARCHAR(80) NULL,
        MODIFY ruleId INT UNSIGNED NULL, MODIFY pointId INT UNSIGNED NULL, MODIFY value DOUBLE NULL, MODIFY name VARCHAR(160) NOT NULL,
        MODIFY \`condition\` VARCHAR(400) NOT NULL`,
    );
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query("DELETE FROM alerts WHERE kind <> 'limit'");
    await runner.query(
      `ALTER TABLE alerts DROP kind, DROP source, MODIFY ruleId INT UNSIGNED NOT NULL, MODIFY pointId INT UNSIGNED NOT NULL,
        MODIFY value DOUBLE NOT NULL`,
    );
    await runner.query('ALTER TABLE cut_off_rules DROP blindAfterMs, DROP openWhenBlind');
  }
}
