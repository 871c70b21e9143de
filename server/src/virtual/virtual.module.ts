import { Module } from '@nestjs/common';
import { AlertsModule } from '../alerts/alerts.module.js';
import { AcquisitionModule } from '../acquisition/acquisition.module.js';
import { DevicesModule } from '../devices/devices.module.js';
import { BookModule } from '../book/book.module.js';
import { JobsModule } from '../jobs/jobs.module.js';
import { SeriesModule } from '../series/series.module.js';
import { SiteModule } from '../site/site.module.js';
import { DerivingMeters } from './derivingMeters.js';
import { VirtualController } from './virtual.controller.js';
import { VirtualMetersService } from './virtualMeters.service.js';
import { VirtualRunner } from './virtualRunner.js';

@Module({
  imports: [AlertsModule, AcquisitionModule, DevicesModule, BookModule, JobsModule, SeriesModule, SiteModule],
  controllers: [VirtualController],
  providers: [VirtualMetersService, DerivingMeters, VirtualRunner],
  exports: [VirtualMetersService, DerivingMeters],
})
export class VirtualModule {}
