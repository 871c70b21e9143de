import { Module } from '@nestjs/common';
import { TypeOrmModule } from '@nestjs/typeorm';
import { DataSource, type DataSourceOptions } from 'typeorm';
import { CONFIG, type Config } from '../config.js';
import { giveUpHungConnections } from './giveUpHung.js';
import { SlowQueries } from './slowQueries.js';
import { FirstSlice1764000000000 } from './migrations/1764000000000-firstSlice.js';
import { MoreLinks1764100000000 } from './migrations/1764100000000-moreLinks.js';
import { PowerFlow1764200000000 } from './migrations/1764200000000-powerFlow.js';
import { SeriesFloor1764300000000 } from './migrations/1764300000000-seriesFloor.js';
import { DaySums1764400000000 } from './migrations/1764400000000-daySums.js';
import { PointKind1764500000000 } from './migrations/1764500000000-pointKind.js';
import { Protection1764600000000 } from './migrations/1764600000000-protection.js';
import { LastDefinition1764800000000 } from './migrations/1764800000000-lastDefinition.js';
import { Settings1765100000000 } from './migrations/1765100000000-settings.js';
import { SupplySystem1765200000000 } from './migrations/1765200000000-supplySystem.js';
import { Fittings1765300000000 } from './migrations/1765300000000-fittings.js';
import { CalibrationFit1765500000000 } from './migrations/1765500000000-calibrationFit.js';
import { Instruments1765600000000 } from './migrations/1765600000000-instruments.js';
import { Purposes1765700000000 } from './migrations/1765700000000-purposes.js';
import { Comments1765800000000 } from './migrations/1765800000000-comments.js';
import { Dashboards1765900000000 } from './migrations/1765900000000-dashboards.js';
import { Plans1766000000000 } from './migrations/1766000000000-plans.js';
import { Pictures1766100000000 } from './migrations/1766100000000-pictures.js';
import { ClosedDays1766200000000 } from './migrations/1766200000000-closedDays.js';
import { KeptReports1766300000000 } from './migrations/1766300000000-keptReports.js';
import { OutdoorPoint1766400000000 } from './migrations/1766400000000-outdoorPoint.js';
import { RemovedName1766500000000 } from './migrations/1766500000000-removedName.js';
import { OutputTrials1765400000000 } from './migrations/1765400000000-outputTrials.js';
import { Transducers1765000000000 } from './migrations/1765000000000-transducers.js';
import { Verification1764900000000 } from './migrations/1764900000000-verification.js';
import { Versions1764700000000 } from './migrations/1764700000000-versions.js';

/** How Loka speaks to MariaDB. Migrations make the schema; it is never synchronised from the classes. */
export function databaseOptions(config: Config): DataSourceOptions {
  const { host, port, user, password, name, timeoutMs } = config.database;
  return {
    type: 'mariadb',
    host,
    port,
    username: user,
    password,
    database: name,
    timezone: 'Z',
    // Instants are below 2^53: as numbers, not as text.
    supportBigNumbers: true,
    bigNumberStrings: false,
    charset: 'utf8mb4',
    synchronize: false,
    migrationsRun: true,
    migrations: [
      FirstSlice1764000000000,
      MoreLinks1764100000000,
      PowerFlow1764200000000,
      SeriesFloor1764300000000,
      DaySums1764400000000,
      PointKind1764500000000,
      Protection1764600000000,
      Versions1764700000000,
      LastDefinition1764800000000,
      Verification1764900000000,
      Transducers1765000000000,
      Settings1765100000000,
      SupplySystem1765200000000,
      Fittings1765300000000,
      OutputTrials1765400000000,
      CalibrationFit1765500000000,
      Instruments1765600000000,
      Purposes1765700000000,
      Comments1765800000000,
      Dashboards1765900000000,
      Plans1766000000000,
      Pictures1766100000000,
      ClosedDays1766200000000,
      KeptReports1766300000000,
      OutdoorPoint1766400000000,
      RemovedName1766500000000,
    ],
    connectTimeout: 4000,
    // A database that hangs is one that is away: whoever waits for it is told so.
    enableQueryTimeout: true,
    maxQueryExecutionTime: timeoutMs ?? 10_000,
    poolSize: 8,
    // The driver would note for each query where in the code it was asked, which costs more than many a query.
    extra: { trace: false },
    logger: new SlowQueries(),
  };
}

@Module({
  imports: [
    TypeOrmModule.forRootAsync({
      inject: [CONFIG],
      useFactory: (config: Config) => ({
        ...databaseOptions(config),
        autoLoadEntities: true,
        retryAttempts: 0,
      }),
      dataSourceFactory: async (options) => {
        const db = await new DataSource(options as DataSourceOptions).initialize();
        giveUpHungConnections(db);
        return db;
      },
    }),
  ],
})
export class DatabaseModule {}
