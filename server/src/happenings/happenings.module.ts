import { Module } from '@nestjs/common';
import { BookModule } from '../book/book.module.js';
import { CommentsModule } from '../comments/comments.module.js';
import { SeriesModule } from '../series/series.module.js';
import { GapsService } from './gaps.service.js';
import { HappeningsController } from './happenings.controller.js';
import { HappeningsService } from './happenings.service.js';

/** Reads what other modules have written down, and changes nothing of it. */
@Module({
  imports: [BookModule, CommentsModule, SeriesModule],
  controllers: [HappeningsController],
  providers: [HappeningsService, GapsService],
})
export class HappeningsModule {}
