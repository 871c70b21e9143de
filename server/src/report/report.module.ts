import { Module } from '@nestjs/common';
import { TypeOrmModule } from '@nestjs/typeorm';
import { AlertsModule } from '../alerts/alerts.module.js';
import { BalanceModule } from '../balance/balance.module.js';
import { BookModule } from '../book/book.module.js';
import { EnergyModule } from '../energy/energy.module.js';
import { InstallationModule } from '../installation/installation.module.js';
import { JobsModule } from '../jobs/jobs.module.js';
import { ProfileModule } from '../profile/profile.module.js';
import { SiteModule } from '../site/site.module.js';
import { KeptReportEntity } from './keptReport.entity.js';
import { KeptReportsService } from './keptReports.service.js';
import { ReportController } from './report.controller.js';
import { ReportService } from './report.service.js';

@Module({
  imports: [
    TypeOrmModule.forFeature([KeptReportEntity]),
    AlertsModule,
    BalanceModule,
    BookModule,
    EnergyModule,
    InstallationModule,
    JobsModule,
    ProfileModule,
    SiteModule,
  ],
  controllers: [ReportController],
  providers: [KeptReportsService, ReportService],
})
export class ReportModule {}
