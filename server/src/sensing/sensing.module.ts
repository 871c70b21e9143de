import { Module } from '@nestjs/common';
import { BookModule } from '../book/book.module.js';
import { SeriesModule } from '../series/series.module.js';
import { SensingController } from './sensing.controller.js';
import { SensingService } from './sensing.service.js';

@Module({
  imports: [BookModule, SeriesModule],
  controllers: [SensingController],
  providers: [SensingService],
  exports: [SensingService],
})
export class SensingModule {}
