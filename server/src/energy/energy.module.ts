import { Module } from '@nestjs/common';
import { DevicesModule } from '../devices/devices.module.js';
import { InstallationBookModule } from '../installation/installationBook.module.js';
import { EnergyController } from './energy.controller.js';
import { EnergyService } from './energy.service.js';

@Module({
  imports: [DevicesModule, InstallationBookModule],
  controllers: [EnergyController],
  providers: [EnergyService],
})
export class EnergyModule {}
