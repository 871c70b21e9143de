import { Module } from '@nestjs/common';
import { BookModule } from '../book/book.module.js';
import { EnergyModule } from '../energy/energy.module.js';
import { InstallationModule } from '../installation/installation.module.js';
import { SeriesModule } from '../series/series.module.js';
import { BalanceController } from './balance.controller.js';
import { BalanceService } from './balance.service.js';
import { LimitsService } from './limits.service.js';

@Module({
  imports: [BookModule, EnergyModule, InstallationModule, SeriesModule],
  controllers: [BalanceController],
  providers: [BalanceService, LimitsService],
  exports: [BalanceService],
})
export class BalanceModule {}
