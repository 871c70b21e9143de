import { Module } from '@nestjs/common';
import { TypeOrmModule } from '@nestjs/typeorm';
import { AcquisitionModule } from '../acquisition/acquisition.module.js';
import { BookModule } from '../book/book.module.js';
import { SeriesModule } from '../series/series.module.js';
import { FastLookEntity } from './fastLook.entity.js';
import { FastLooksController } from './fastLooks.controller.js';
import { FastLooksService } from './fastLooks.service.js';

@Module({
  imports: [TypeOrmModule.forFeature([FastLookEntity]), AcquisitionModule, BookModule, SeriesModule],
  controllers: [FastLooksController],
  providers: [FastLooksService],
})
export class FastLookModule {}
