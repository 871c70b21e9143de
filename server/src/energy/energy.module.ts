import { Module } from '@nestjs/common';
import { BookModule } from '../book/book.module.js';
import { EnergyController } from './energy.controller.js';
import { EnergyService } from './energy.service.js';
import { SeriesModule } from '../series/series.module.js';
import { SiteModule } from '../site/site.module.js';

@Module({
  imports: [BookModule, SeriesModule, SiteModule],
  controllers: [EnergyController],
  providers: [EnergyService],
  exports: [EnergyService],
})
export class EnergyModule {}
