import { Module } from '@nestjs/common';
import { DevicesModule } from '../devices/devices.module.js';
import { RegistersController } from './registers.controller.js';
import { MapFilesService } from './mapFiles.service.js';
import { RegistersService } from './registers.service.js';

@Module({
  imports: [DevicesModule],
  controllers: [RegistersController],
  providers: [RegistersService, MapFilesService],
  exports: [RegistersService],
})
export class RegistersModule {}
