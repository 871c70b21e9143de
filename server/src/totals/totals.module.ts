import { Module } from '@nestjs/common';
import { TypeOrmModule } from '@nestjs/typeorm';
import { BookModule } from '../book/book.module.js';
import { EnergyModule } from '../energy/energy.module.js';
import { SeriesModule } from '../series/series.module.js';
import { ClearingEntity } from './clearing.entity.js';
import { RunningService } from './running.service.js';
import { TotalsController } from './totals.controller.js';
import { TotalsService } from './totals.service.js';

@Module({
  imports: [TypeOrmModule.forFeature([ClearingEntity]), BookModule, EnergyModule, SeriesModule],
  controllers: [TotalsController],
  providers: [TotalsService, RunningService],
})
export class TotalsModule {}
