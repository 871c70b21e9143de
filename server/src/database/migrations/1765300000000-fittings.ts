import type { MigrationInterface, QueryRunner } from 'typeorm';

/** The history of what was fitted when; transducers that were described already are its beginning. */
export class Fittings1765300000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`CREATE TABLE fittings (
      id INT NOT NULL AUTO_INCREMENT PRIMARY KEY,
      nodeId INT NOT NULL,
      at BIGINT NOT NULL,
      enteredAt BIGINT NOT NULL,
      who VARCHAR(80) NOT NULL,
      kind VARCHAR(16) NOT NULL,
      says VARCHAR(400) NOT NULL,
      KEY byNode (nodeId, at)
    )`);
    await runner.query(`INSERT INTO fittings (nodeId, at, enteredAt, who, kind, says)
      SELECT p.nodeId, s.validFrom, MIN(s.at), MIN(s.who),
        IF(MAX(s.ratio <> 1 OR s.turns <> 1 OR s.reversed OR s.burden IS NOT NULL OR s.\`signal\` IS NOT NULL), 'transducer', 'described'),
        'Transducer described'
      FROM sensings s JOIN points p ON p.id = s.pointId
      WHERE p.nodeId IS NOT NULL
      GROUP BY p.nodeId, s.validFrom`);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DROP TABLE fittings');
  }
}
