import type { MigrationInterface, QueryRunner } from 'typeorm';

const UP = [
  `ALTER TABLE links
    ADD kind VARCHAR(20) NOT NULL DEFAULT 'modbus-tcp', ADD retries INT NOT NULL DEFAULT 1, ADD pauseMs INT NOT NULL DEFAULT 0,
    ADD maxWords INT NOT NULL DEFAULT 125, ADD path VARCHAR(130) NOT NULL DEFAULT '', ADD baudRate INT NOT NULL DEFAULT 9600,
    ADD parity VARCHAR(5) NOT NULL DEFAULT 'none', ADD stopBits INT NOT NULL DEFAULT 1, ADD mqttVersion VARCHAR(5) NOT NULL DEFAULT '3.1.1',
    ADD tls TINYINT NOT NULL DEFAULT 0, ADD certificate TEXT NOT NULL DEFAULT '', ADD user VARCHAR(120) NOT NULL DEFAULT '',
    ADD clientId VARCHAR(60) NOT NULL DEFAULT '', ADD secret VARCHAR(200) NULL`,
  `ALTER TABLE devices ADD topic VARCHAR(200) NOT NULL DEFAULT ''`,
  `ALTER TABLE register_maps ADD version INT NOT NULL DEFAULT 1, ADD messages LONGTEXT NOT NULL DEFAULT '[]', ADD availability TEXT NULL`,
  `CREATE TABLE register_map_versions (mapId INT UNSIGNED NOT NULL, version INT NOT NULL, at BIGINT NOT NULL, name VARCHAR(80) NOT NULL,
    description VARCHAR(500) NOT NULL, points LONGTEXT NOT NULL, messages LONGTEXT NOT NULL, availability TEXT NULL,
    PRIMARY KEY (mapId, version), FOREIGN KEY (mapId) REFERENCES register_maps (id) ON DELETE CASCADE) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4`,
  // A virtual meter has no device.
  `ALTER TABLE points MODIFY deviceId INT UNSIGNED NULL`,
  `CREATE TABLE virtual_meters (pointId INT UNSIGNED NOT NULL PRIMARY KEY, name VARCHAR(60) NOT NULL, formula VARCHAR(500) NOT NULL,
    inputs LONGTEXT NOT NULL, quantity VARCHAR(30) NOT NULL, intervalMs INT NOT NULL,
    FOREIGN KEY (pointId) REFERENCES points (id)) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4`,
];

/** Links of every kind, maps of messages and their versions, virtual meters. */
export class MoreLinks1764100000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    for (const statement of UP) await runner.query(statement);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DROP TABLE virtual_meters');
    await runner.query('DELETE FROM points WHERE deviceId IS NULL');
    await runner.query('ALTER TABLE points MODIFY deviceId INT UNSIGNED NOT NULL');
    await runner.query('DROP TABLE register_map_versions');
    await runner.query('ALTER TABLE register_maps DROP version, DROP messages, DROP availability');
    await runner.query('ALTER TABLE devices DROP topic');
    await runner.query(
      `ALTER TABLE links DROP kind, DROP retries, DROP pauseMs, DROP maxWords, DROP path, DROP baudRate, DROP parity, DROP stopBits,
        DROP mqttVersion, DROP tls, DROP certificate, DROP user, DROP clientId, DROP secret`,
    );
  }
}
