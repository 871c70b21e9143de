import { Module } from '@nestjs/common';
import { TypeOrmModule } from '@nestjs/typeorm';
import { BookModule } from '../book/book.module.js';
import { SiteController } from './site.controller.js';
import { SiteEntity } from './site.entity.js';
import { ZoneChangeEntity } from './zoneChange.entity.js';
import { SiteService } from './site.service.js';

@Module({
  imports: [BookModule, TypeOrmModule.forFeature([SiteEntity, ZoneChangeEntity])],
  controllers: [SiteController],
  providers: [SiteService],
  exports: [SiteService],
})
export class SiteModule {}
