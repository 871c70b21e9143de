import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Uploaded pictures. */
export class Pictures1766100000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      `CREATE TABLE pictures (id INT AUTO_INCREMENT PRIMARY KEY, name VARCHAR(80) NOT NULL, type VARCHAR(20) NOT NULL,
       width DOUBLE NOT NULL, height DOUBLE NOT NULL, bytes INT NOT NULL, hash CHAR(64) NOT NULL UNIQUE,
       content MEDIUMBLOB NOT NULL, addedAt BIGINT NOT NULL, who VARCHAR(80) NOT NULL) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4`,
    );
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DROP TABLE pictures');
  }
}
