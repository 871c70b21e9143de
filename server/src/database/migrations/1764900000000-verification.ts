import type { MigrationInterface, QueryRunner } from 'typeorm';

/** What is on a load's plate, step tests, and verifications that stay with the circuit. */
export class Verification1764900000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      'ALTER TABLE installation_nodes ADD ratedPower DOUBLE NULL, ADD powerFactor DOUBLE NULL',
    );
    await runner.query(`CREATE TABLE step_tests (
      id INT NOT NULL AUTO_INCREMENT PRIMARY KEY,
      nodeId INT NOT NULL,
      startedAt BIGINT NOT NULL,
      endedAt BIGINT NULL,
      who VARCHAR(80) NOT NULL,
      steps MEDIUMTEXT NOT NULL,
      KEY byNode (nodeId, startedAt)
    )`);
    await runner.query(`CREATE TABLE verifications (
      id INT NOT NULL AUTO_INCREMENT PRIMARY KEY,
      nodeId INT NOT NULL,
      at BIGINT NOT NULL,
      who VARCHAR(80) NOT NULL,
      kind VARCHAR(16) NOT NULL,
      proven TINYINT NOT NULL,
      checks MEDIUMTEXT NOT NULL,
      faults TEXT NOT NULL,
      past VARCHAR(400) NOT NULL,
      KEY byNode (nodeId, at)
    )`);
    await runner.query(`CREATE TABLE wiring_faults (
      nodeId INT NOT NULL PRIMARY KEY,
      checkKind VARCHAR(32) NOT NULL,
      says VARCHAR(400) NOT NULL,
      since BIGINT NOT NULL
    )`);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DROP TABLE wiring_faults');
    await runner.query('DROP TABLE verifications');
    await runner.query('DROP TABLE step_tests');
    await runner.query('ALTER TABLE installation_nodes DROP ratedPower, DROP powerFactor');
  }
}
