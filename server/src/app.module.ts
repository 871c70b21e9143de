import { DynamicModule, Global, Module } from '@nestjs/common';
import { AcquisitionModule } from './acquisition/acquisition.module.js';
import { AlertsModule } from './alerts/alerts.module.js';
import { AuditModule } from './audit/audit.module.js';
import { CalibrationModule } from './calibration/calibration.module.js';
import { CONFIG, type Config } from './config.js';
import { ControlModule } from './control/control.module.js';
import { DatabaseModule } from './database/database.module.js';
import { EventWriterModule } from './database/eventWriter.module.js';
import { DevicesModule } from './devices/devices.module.js';
import { CommentsModule } from './comments/comments.module.js';
import { HappeningsModule } from './happenings/happenings.module.js';
import { CommandsModule } from './commands/commands.module.js';
import { DashboardsModule } from './dashboards/dashboards.module.js';
import { TotalsModule } from './totals/totals.module.js';
import { FastLookModule } from './fastLook/fastLook.module.js';
import { BalanceModule } from './balance/balance.module.js';
import { EnergyModule } from './energy/energy.module.js';
import { HealthModule } from './health/health.module.js';
import { InstallationModule } from './installation/installation.module.js';
import { InstrumentsModule } from './instruments/instruments.module.js';
import { JobsModule } from './jobs/jobs.module.js';
import { APP_INTERCEPTOR } from '@nestjs/core';
import { LiveModule } from './live/live.module.js';
import { DatabaseAwayInterceptor } from './problem/databaseAway.interceptor.js';
import { RegistersModule } from './registers/registers.module.js';
import { SecurityModule } from './security/security.module.js';
import { SeriesModule } from './series/series.module.js';
import { SensingModule } from './sensing/sensing.module.js';
import { PicturesModule } from './pictures/pictures.module.js';
import { ProfileModule } from './profile/profile.module.js';
import { PlansModule } from './plans/plans.module.js';
import { RecordModule } from './record/record.module.js';
import { ReportModule } from './report/report.module.js';
import { SearchModule } from './search/search.module.js';
import { SettingsModule } from './settings/settings.module.js';
import { SiteModule } from './site/site.module.js';
import { VerifyModule } from './verify/verify.module.js';
import { VirtualModule } from './virtual/virtual.module.js';

@Global()
@Module({})
export class AppModule {
  /** The whole server with its settings. */
  static with(config: Config): DynamicModule {
    return {
      module: AppModule,
      global: true,
      providers: [
        { provide: CONFIG, useValue: config },
        { provide: APP_INTERCEPTOR, useClass: DatabaseAwayInterceptor },
      ],
      exports: [CONFIG],
      imports: [
        DatabaseModule,
        EventWriterModule,
        SecurityModule,
        LiveModule,
        AuditModule,
        JobsModule,
        SiteModule,
        InstallationModule,
        DevicesModule,
        RegistersModule,
        SeriesModule,
        BalanceModule,
        CommentsModule,
        CommandsModule,
        DashboardsModule,
        PicturesModule,
        ProfileModule,
        PlansModule,
        FastLookModule,
        HappeningsModule,
        TotalsModule,
        EnergyModule,
        SensingModule,
        InstrumentsModule,
        CalibrationModule,
        AcquisitionModule,
        VirtualModule,
        SearchModule,
        AlertsModule,
        ControlModule,
        VerifyModule,
        SettingsModule,
        RecordModule,
        ReportModule,
        HealthModule,
      ],
    };
  }
}
