import { Module } from '@nestjs/common';
import { AcquisitionModule } from '../acquisition/acquisition.module.js';
import { DevicesModule } from '../devices/devices.module.js';
import { SeriesModule } from '../series/series.module.js';
import { HealthController } from './health.controller.js';

@Module({ imports: [AcquisitionModule, DevicesModule, SeriesModule], controllers: [HealthController] })
export class HealthModule {}
