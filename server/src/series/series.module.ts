import { Module } from '@nestjs/common';
import { CorrectionsModule } from '../calibration/corrections.module.js';
import { DevicesModule } from '../devices/devices.module.js';
import { SiteModule } from '../site/site.module.js';
import { IntervalBook } from './intervalBook.js';
import { ReadingsController } from './readings.controller.js';
import { ReadingsService } from './readings.service.js';
import { RollupKeeper } from './rollupKeeper.js';
import { SampleStore } from './sampleStore.js';

@Module({
  imports: [DevicesModule, CorrectionsModule, SiteModule],
  controllers: [ReadingsController],
  providers: [SampleStore, RollupKeeper, IntervalBook, ReadingsService],
  exports: [SampleStore, RollupKeeper, IntervalBook, ReadingsService],
})
export class SeriesModule {}
