import { Module } from '@nestjs/common';
import { TypeOrmModule } from '@nestjs/typeorm';
import { SiteModule } from '../site/site.module.js';
import { InstrumentEntity } from './instrument.entity.js';
import { InstrumentsController } from './instruments.controller.js';
import { InstrumentsService } from './instruments.service.js';

@Module({
  imports: [TypeOrmModule.forFeature([InstrumentEntity]), SiteModule],
  controllers: [InstrumentsController],
  providers: [InstrumentsService],
  exports: [InstrumentsService],
})
export class InstrumentsModule {}
