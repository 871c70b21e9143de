import { Module } from '@nestjs/common';
import { BookModule } from '../book/book.module.js';
import { SeriesModule } from '../series/series.module.js';
import { AcquisitionHealth } from './acquisitionHealth.js';
import { DevicesController } from './devices.controller.js';
import { DevicesService } from './devices.service.js';
import { LinksService } from './links.service.js';
import { MatchedPoints } from './matchedPoints.js';

@Module({
  imports: [BookModule, SeriesModule],
  controllers: [DevicesController],
  providers: [DevicesService, LinksService, AcquisitionHealth, MatchedPoints],
  exports: [AcquisitionHealth, DevicesService, LinksService, MatchedPoints],
})
export class DevicesModule {}
