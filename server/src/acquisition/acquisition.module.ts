import { Module } from '@nestjs/common';
import { CorrectionsModule } from '../calibration/corrections.module.js';
import { DevicesModule } from '../devices/devices.module.js';
import { SeriesModule } from '../series/series.module.js';
import { AcquisitionController } from './acquisition.controller.js';
import { WordsService } from './words.service.js';
import { AcquisitionService } from './acquisition.service.js';

@Module({
  imports: [DevicesModule, CorrectionsModule, SeriesModule],
  controllers: [AcquisitionController],
  providers: [AcquisitionService, WordsService],
  exports: [AcquisitionService],
})
export class AcquisitionModule {}
