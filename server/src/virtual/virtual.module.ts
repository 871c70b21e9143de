import { Module } from '@nestjs/common';
import { AcquisitionModule } from '../acquisition/acquisition.module.js';
import { CalibrationModule } from '../calibration/calibration.module.js';
import { CorrectionsModule } from '../calibration/corrections.module.js';
import { DevicesModule } from '../devices/devices.module.js';
import { InstallationBookModule } from '../installation/installationBook.module.js';
import { JobsModule } from '../jobs/jobs.module.js';
import { SeriesModule } from '../series/series.module.js';
import { SiteModule } from '../site/site.module.js';
import { VirtualController } from './virtual.controller.js';
import { VirtualMetersService } from './virtualMeters.service.js';
import { VirtualPastService } from './virtualPast.service.js';
import { VirtualRunner } from './virtualRunner.js';

@Module({
  imports: [
    AcquisitionModule,
    CalibrationModule,
    CorrectionsModule,
    DevicesModule,
    InstallationBookModule,
    JobsModule,
    SeriesModule,
    SiteModule,
  ],
  controllers: [VirtualController],
  providers: [VirtualMetersService, VirtualPastService, VirtualRunner],
  exports: [VirtualMetersService, VirtualPastService],
})
export class VirtualModule {}
