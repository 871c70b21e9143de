import { Module } from '@nestjs/common';
import { CorrectionsModule } from '../calibration/corrections.module.js';
import { SwitchBookModule } from '../control/switchBook.module.js';
import { DevicesModule } from '../devices/devices.module.js';
import { SeriesModule } from '../series/series.module.js';
import { InstallationBookModule } from './installationBook.module.js';
import { InstallationController } from './installation.controller.js';
import { InstallationService } from './installation.service.js';

@Module({
  imports: [InstallationBookModule, DevicesModule, CorrectionsModule, SwitchBookModule, SeriesModule],
  controllers: [InstallationController],
  providers: [InstallationService],
  exports: [InstallationService],
})
export class InstallationModule {}
