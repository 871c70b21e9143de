import type { MigrationInterface, QueryRunner } from 'typeorm';

const TABLES: Record<string, string> = {
  sites: `id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY, name VARCHAR(80) NOT NULL, timeZone VARCHAR(60) NOT NULL,
    nominalVoltage DOUBLE NOT NULL, frequency INT NOT NULL, conductorScheme VARCHAR(30) NOT NULL`,
  installation_nodes: `id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY, parentId INT UNSIGNED NULL, kind VARCHAR(10) NOT NULL,
    name VARCHAR(80) NOT NULL, way VARCHAR(12) NOT NULL, phases VARCHAR(10) NOT NULL, protectiveDevice VARCHAR(10) NULL,
    ratedCurrent DOUBLE NULL, position INT NOT NULL,
    FOREIGN KEY (parentId) REFERENCES installation_nodes (id)`,
  links: `id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY, name VARCHAR(80) NOT NULL, host VARCHAR(255) NOT NULL, port INT NOT NULL,
    timeoutMs INT NOT NULL, enabled TINYINT NOT NULL`,
  register_maps: `id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY, name VARCHAR(80) NOT NULL, description VARCHAR(500) NOT NULL,
    points LONGTEXT NOT NULL`,
  devices: `id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY, linkId INT UNSIGNED NOT NULL, mapId INT UNSIGNED NOT NULL,
    name VARCHAR(80) NOT NULL, unit INT NOT NULL, removedAt BIGINT NULL,
    FOREIGN KEY (linkId) REFERENCES links (id), FOREIGN KEY (mapId) REFERENCES register_maps (id)`,
  points: `id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY, deviceId INT UNSIGNED NOT NULL, \`key\` VARCHAR(60) NOT NULL,
    nodeId INT UNSIGNED NULL, phase VARCHAR(6) NULL, removedAt BIGINT NULL, UNIQUE (deviceId, \`key\`),
    FOREIGN KEY (deviceId) REFERENCES devices (id), FOREIGN KEY (nodeId) REFERENCES installation_nodes (id) ON DELETE SET NULL`,
  point_intervals: `pointId INT UNSIGNED NOT NULL, validFrom BIGINT NOT NULL, intervalMs INT NOT NULL, PRIMARY KEY (pointId, validFrom)`,
  samples: `pointId INT UNSIGNED NOT NULL, t BIGINT NOT NULL, v DOUBLE NULL, q TINYINT UNSIGNED NOT NULL, PRIMARY KEY (pointId, t)`,
  rollups_1m: `pointId INT UNSIGNED NOT NULL, t BIGINT NOT NULL, min DOUBLE NOT NULL, max DOUBLE NOT NULL, mean DOUBLE NOT NULL,
    count INT UNSIGNED NOT NULL, covered INT UNSIGNED NOT NULL, last DOUBLE NOT NULL, PRIMARY KEY (pointId, t)`,
  calibrations: `id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY, pointId INT UNSIGNED NOT NULL, madeAt BIGINT NOT NULL,
    validFrom BIGINT NOT NULL, gain DOUBLE NOT NULL, \`offset\` DOUBLE NOT NULL, evidence LONGTEXT NOT NULL, powerPointId INT UNSIGNED NULL,
    FOREIGN KEY (pointId) REFERENCES points (id)`,
  corrections: `id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY, pointId INT UNSIGNED NOT NULL, calibrationId INT UNSIGNED NOT NULL,
    validFrom BIGINT NOT NULL, gain DOUBLE NOT NULL, \`offset\` DOUBLE NOT NULL, supersededBy INT UNSIGNED NULL, undoneAt BIGINT NULL,
    KEY (pointId, validFrom), FOREIGN KEY (pointId) REFERENCES points (id), FOREIGN KEY (calibrationId) REFERENCES calibrations (id)`,
  rebuilds: `id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY, pointId INT UNSIGNED NOT NULL, calibrationId INT UNSIGNED NOT NULL,
    start BIGINT NOT NULL, end BIGINT NOT NULL, done BIGINT NOT NULL`,
  alert_rules: `id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY, name VARCHAR(80) NOT NULL, pointId INT UNSIGNED NOT NULL,
    direction VARCHAR(5) NOT NULL, \`limit\` DOUBLE NOT NULL, deadband DOUBLE NOT NULL, onDelayMs INT NOT NULL, offDelayMs INT NOT NULL,
    enabled TINYINT NOT NULL, removedAt BIGINT NULL, FOREIGN KEY (pointId) REFERENCES points (id)`,
  alerts: `id CHAR(36) NOT NULL PRIMARY KEY, ruleId INT UNSIGNED NOT NULL, pointId INT UNSIGNED NOT NULL, name VARCHAR(80) NOT NULL,
    \`condition\` VARCHAR(120) NOT NULL, raisedAt BIGINT NOT NULL, value DOUBLE NOT NULL, returnedAt BIGINT NULL, acknowledgedAt BIGINT NULL,
    acknowledgedBy VARCHAR(80) NULL, KEY (raisedAt), KEY (ruleId, returnedAt)`,
  switches: `id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY, name VARCHAR(80) NOT NULL, nodeId INT UNSIGNED NOT NULL,
    commandPointId INT UNSIGNED NOT NULL, statePointId INT UNSIGNED NOT NULL, timeoutMs INT NOT NULL, removedAt BIGINT NULL,
    FOREIGN KEY (nodeId) REFERENCES installation_nodes (id), FOREIGN KEY (commandPointId) REFERENCES points (id),
    FOREIGN KEY (statePointId) REFERENCES points (id)`,
  switch_operations: `id CHAR(36) NOT NULL PRIMARY KEY, switchId INT UNSIGNED NOT NULL, switchName VARCHAR(80) NOT NULL, at BIGINT NOT NULL,
    closed TINYINT NOT NULL, cause VARCHAR(10) NOT NULL, who VARCHAR(80) NOT NULL, reason VARCHAR(300) NOT NULL, outcome VARCHAR(10) NOT NULL,
    outcomeAt BIGINT NULL, message VARCHAR(500) NULL, KEY (switchId, at), KEY (at)`,
  cut_off_rules: `id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY, switchId INT UNSIGNED NOT NULL, pointId INT UNSIGNED NOT NULL,
    \`limit\` DOUBLE NOT NULL, delayMs INT NOT NULL, ignoreAfterOnMs INT NOT NULL, enabled TINYINT NOT NULL, trippedAt BIGINT NULL,
    trippedValue DOUBLE NULL, removedAt BIGINT NULL, FOREIGN KEY (switchId) REFERENCES switches (id), FOREIGN KEY (pointId) REFERENCES points (id)`,
  audit: `id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY, at BIGINT NOT NULL, who VARCHAR(80) NOT NULL, action VARCHAR(10) NOT NULL,
    subject VARCHAR(200) NOT NULL, detail LONGTEXT NOT NULL, KEY (at)`,
};

/** The tables of the first slice. Samples and rollups carry no foreign keys: they are written by the million. */
export class FirstSlice1764000000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    for (const [name, columns] of Object.entries(TABLES))
      await runner.query(`CREATE TABLE ${name} (${columns}) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4`);
  }

  async down(runner: QueryRunner): Promise<void> {
    for (const name of Object.keys(TABLES).reverse()) await runner.query(`DROP TABLE ${name}`);
  }
}
