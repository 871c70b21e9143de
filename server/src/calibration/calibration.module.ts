import { Module } from '@nestjs/common';
import { TypeOrmModule } from '@nestjs/typeorm';
import { BookModule } from '../book/book.module.js';
import { EnergyModule } from '../energy/energy.module.js';
import { SeriesModule } from '../series/series.module.js';
import { CalibrationController } from './calibration.controller.js';
import { CalibrationEntity } from './calibration.entity.js';
import { CalibrationService } from './calibration.service.js';
import { CapturesService } from './captures.service.js';

@Module({
  imports: [TypeOrmModule.forFeature([CalibrationEntity]), BookModule, EnergyModule, SeriesModule],
  controllers: [CalibrationController],
  providers: [CalibrationService, CapturesService],
  exports: [CalibrationService],
})
export class CalibrationModule {}
