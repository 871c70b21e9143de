import { Module } from '@nestjs/common';
import { DevicesModule } from '../devices/devices.module.js';
import { RegistersController } from './registers.controller.js';
import { RegistersService } from './registers.service.js';

@Module({
  imports: [DevicesModule],
  controllers: [RegistersController],
  providers: [RegistersService],
  exports: [RegistersService],
})
export class RegistersModule {}
