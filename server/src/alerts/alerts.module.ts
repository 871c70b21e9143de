import { Module } from '@nestjs/common';
import { TypeOrmModule } from '@nestjs/typeorm';
import { BookModule } from '../book/book.module.js';
import { AlertEntity, AlertRuleEntity } from './alert.entity.js';
import { AlertsController } from './alerts.controller.js';
import { AlertsService } from './alerts.service.js';
import { StandingAlerts } from './standing.js';

@Module({
  imports: [TypeOrmModule.forFeature([AlertRuleEntity, AlertEntity]), BookModule],
  controllers: [AlertsController],
  providers: [AlertsService, StandingAlerts],
  exports: [AlertsService, StandingAlerts],
})
export class AlertsModule {}
