import { Module } from '@nestjs/common';
import { APP_INTERCEPTOR } from '@nestjs/core';
import { TypeOrmModule } from '@nestjs/typeorm';
import { AuditController } from './audit.controller.js';
import { AuditInterceptor } from './audit.interceptor.js';
import { AuditEntryEntity } from './auditEntry.entity.js';
import { Removed } from './removed.js';

@Module({
  imports: [TypeOrmModule.forFeature([AuditEntryEntity])],
  controllers: [AuditController],
  providers: [Removed, { provide: APP_INTERCEPTOR, useClass: AuditInterceptor }],
})
export class AuditModule {}
