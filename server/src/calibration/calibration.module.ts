import { Module } from '@nestjs/common';
import { TypeOrmModule } from '@nestjs/typeorm';
import { BookModule } from '../book/book.module.js';
import { EnergyModule } from '../energy/energy.module.js';
import { InstrumentsModule } from '../instruments/instruments.module.js';
import { SiteModule } from '../site/site.module.js';
import { SeriesModule } from '../series/series.module.js';
import { CalibrationController } from './calibration.controller.js';
import { CalibrationEntity } from './calibration.entity.js';
import { CalibrationService } from './calibration.service.js';
import { CapturesService } from './captures.service.js';
import { CopiesService } from './copies.service.js';
import { DriftsService } from './drifts.service.js';
import { InForceService } from './inForce.service.js';
import { RefusalsService } from './refusals.service.js';

@Module({
  imports: [
    TypeOrmModule.forFeature([CalibrationEntity]),
    BookModule,
    EnergyModule,
    InstrumentsModule,
    SeriesModule,
    SiteModule,
  ],
  controllers: [CalibrationController],
  providers: [
    CalibrationService,
    CapturesService,
    CopiesService,
    DriftsService,
    InForceService,
    RefusalsService,
  ],
  exports: [CalibrationService, DriftsService],
})
export class CalibrationModule {}
