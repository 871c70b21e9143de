import { Module } from '@nestjs/common';
import { BookModule } from '../book/book.module.js';
import { SeriesModule } from '../series/series.module.js';
import { SiteModule } from '../site/site.module.js';
import { ProfileController } from './profile.controller.js';
import { ProfileThread } from './profileThread.js';
import { ProfileService } from './profile.service.js';

@Module({
  imports: [BookModule, SeriesModule, SiteModule],
  controllers: [ProfileController],
  providers: [ProfileService, ProfileThread],
})
export class ProfileModule {}
