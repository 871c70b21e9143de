import { Module } from '@nestjs/common';
import { TypeOrmModule } from '@nestjs/typeorm';
import { DashboardsModule } from '../dashboards/dashboards.module.js';
import { PlansModule } from '../plans/plans.module.js';
import { PictureEntity } from './picture.entity.js';
import { PicturesController } from './pictures.controller.js';
import { PicturesService } from './pictures.service.js';

@Module({
  imports: [TypeOrmModule.forFeature([PictureEntity]), DashboardsModule, PlansModule],
  controllers: [PicturesController],
  providers: [PicturesService],
  exports: [PicturesService],
})
export class PicturesModule {}
