import { Module } from '@nestjs/common';
import { BookModule } from '../book/book.module.js';
import { DevicesModule } from '../devices/devices.module.js';
import { SeriesModule } from '../series/series.module.js';
import { SiteModule } from '../site/site.module.js';
import { FittingsController } from './fittings.controller.js';
import { InstallationController } from './installation.controller.js';
import { InstallationService } from './installation.service.js';

@Module({
  imports: [BookModule, DevicesModule, SeriesModule, SiteModule],
  controllers: [InstallationController, FittingsController],
  providers: [InstallationService],
  exports: [InstallationService],
})
export class InstallationModule {}
