import { Module } from '@nestjs/common';
import { TypeOrmModule } from '@nestjs/typeorm';
import { AcquisitionModule } from '../acquisition/acquisition.module.js';
import { DevicesModule } from '../devices/devices.module.js';
import { InstallationBookModule } from '../installation/installationBook.module.js';
import { SiteModule } from '../site/site.module.js';
import { ControlController } from './control.controller.js';
import { CutOffRuleEntity, SwitchOperationEntity } from './control.entity.js';
import { CutOffsService } from './cutOffs.service.js';
import { Lockouts } from './lockouts.js';
import { SwitchBookModule } from './switchBook.module.js';
import { SwitchesService } from './switches.service.js';

@Module({
  imports: [
    TypeOrmModule.forFeature([SwitchOperationEntity, CutOffRuleEntity]),
    SwitchBookModule,
    AcquisitionModule,
    DevicesModule,
    InstallationBookModule,
    SiteModule,
  ],
  controllers: [ControlController],
  providers: [Lockouts, SwitchesService, CutOffsService],
  exports: [SwitchesService, CutOffsService],
})
export class ControlModule {}
