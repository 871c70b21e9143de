import { Module } from '@nestjs/common';
import { TypeOrmModule } from '@nestjs/typeorm';
import { BookModule } from '../book/book.module.js';
import { RegisterMapVersionEntity } from '../book/registerMap.entity.js';
import { DevicesModule } from '../devices/devices.module.js';
import { SeriesModule } from '../series/series.module.js';
import { RegistersController } from './registers.controller.js';
import { MapFilesService } from './mapFiles.service.js';
import { RegistersService } from './registers.service.js';

@Module({
  imports: [DevicesModule, BookModule, SeriesModule, TypeOrmModule.forFeature([RegisterMapVersionEntity])],
  controllers: [RegistersController],
  providers: [RegistersService, MapFilesService],
  exports: [RegistersService],
})
export class RegistersModule {}
