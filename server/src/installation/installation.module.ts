import { Module } from '@nestjs/common';
import { BookModule } from '../book/book.module.js';
import { DevicesModule } from '../devices/devices.module.js';
import { SeriesModule } from '../series/series.module.js';
import { InstallationController } from './installation.controller.js';
import { InstallationService } from './installation.service.js';

@Module({
  imports: [BookModule, DevicesModule, SeriesModule],
  controllers: [InstallationController],
  providers: [InstallationService],
  exports: [InstallationService],
})
export class InstallationModule {}
