import { Module } from '@nestjs/common';
import { TypeOrmModule } from '@nestjs/typeorm';
import { DevicesModule } from '../devices/devices.module.js';
import { JobsModule } from '../jobs/jobs.module.js';
import { SeriesModule } from '../series/series.module.js';
import { CalibrationController } from './calibration.controller.js';
import { CalibrationEntity } from './calibration.entity.js';
import { CalibrationService } from './calibration.service.js';
import { CorrectionsModule } from './corrections.module.js';
import { RebuildEntity } from './rebuild.entity.js';
import { RebuildsService } from './rebuilds.service.js';

@Module({
  imports: [
    TypeOrmModule.forFeature([CalibrationEntity, RebuildEntity]),
    DevicesModule,
    CorrectionsModule,
    SeriesModule,
    JobsModule,
  ],
  controllers: [CalibrationController],
  providers: [CalibrationService, RebuildsService],
  exports: [CalibrationService, RebuildsService],
})
export class CalibrationModule {}
