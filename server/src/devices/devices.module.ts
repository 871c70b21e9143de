import { Module } from '@nestjs/common';
import { TypeOrmModule } from '@nestjs/typeorm';
import { CorrectionsModule } from '../calibration/corrections.module.js';
import { InstallationBookModule } from '../installation/installationBook.module.js';
import { RegisterMapEntity } from '../registers/registerMap.entity.js';
import { AcquisitionHealth } from './acquisitionHealth.js';
import { DeviceEntity } from './device.entity.js';
import { VirtualMeterEntity } from '../virtual/virtualMeter.entity.js';
import { DeviceBook } from './deviceBook.js';
import { DevicesController } from './devices.controller.js';
import { LinksService } from './links.service.js';
import { DevicesService } from './devices.service.js';
import { LinkEntity } from './link.entity.js';
import { PointEntity, PointIntervalEntity } from './point.entity.js';

@Module({
  imports: [
    TypeOrmModule.forFeature([
      LinkEntity,
      DeviceEntity,
      PointEntity,
      PointIntervalEntity,
      RegisterMapEntity,
      VirtualMeterEntity,
    ]),
    CorrectionsModule,
    InstallationBookModule,
  ],
  controllers: [DevicesController],
  providers: [DeviceBook, DevicesService, LinksService, AcquisitionHealth],
  exports: [DeviceBook, AcquisitionHealth, DevicesService, LinksService],
})
export class DevicesModule {}
