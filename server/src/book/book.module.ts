import { Module } from '@nestjs/common';
import { TypeOrmModule } from '@nestjs/typeorm';
import { DeviceBook } from './deviceBook.js';
import { Dependents } from './dependents.js';
import { DeviceEntity } from './device.entity.js';
import { FittingEntity } from './fitting.entity.js';
import { FittingsBook } from './fittingsBook.js';
import { InstallationBook } from './installationBook.js';
import { InstallationNodeEntity } from './installationNode.entity.js';
import { LinkEntity } from './link.entity.js';
import { PointEntity, PointIntervalEntity } from './point.entity.js';
import { RegisterMapEntity } from './registerMap.entity.js';
import { SettingEntity } from './setting.entity.js';
import { SettingsBook } from './settingsBook.js';
import { SwitchBook } from './switchBook.js';
import { SwitchEntity } from './switch.entity.js';
import { WiringBook } from './wiringBook.js';
import { VirtualMeterEntity } from './virtualMeter.entity.js';

/** What there is: links, devices, points, the tree, switches. Kept in memory, because every reading asks for it. */
@Module({
  imports: [
    TypeOrmModule.forFeature([
      LinkEntity,
      DeviceEntity,
      PointEntity,
      PointIntervalEntity,
      RegisterMapEntity,
      VirtualMeterEntity,
      InstallationNodeEntity,
      SwitchEntity,
      SettingEntity,
      FittingEntity,
    ]),
  ],
  providers: [Dependents, DeviceBook, FittingsBook, InstallationBook, SettingsBook, SwitchBook, WiringBook],
  exports: [Dependents, DeviceBook, FittingsBook, InstallationBook, SettingsBook, SwitchBook, WiringBook],
})
export class BookModule {}
