import { Module } from '@nestjs/common';
import { BookModule } from '../book/book.module.js';
import { SeriesModule } from '../series/series.module.js';
import { AcquisitionHealth } from './acquisitionHealth.js';
import { DevicesController } from './devices.controller.js';
import { DevicesService } from './devices.service.js';
import { LinksService } from './links.service.js';
import { MatchedPoints } from './matchedPoints.js';
import { PointsService } from './points.service.js';
import { PointMoves } from './pointMoves.js';

@Module({
  imports: [BookModule, SeriesModule],
  controllers: [DevicesController],
  providers: [DevicesService, LinksService, AcquisitionHealth, MatchedPoints, PointMoves, PointsService],
  exports: [AcquisitionHealth, DevicesService, LinksService, MatchedPoints, PointsService],
})
export class DevicesModule {}
