import { Module } from '@nestjs/common';
import { AcquisitionModule } from '../acquisition/acquisition.module.js';
import { BookModule } from '../book/book.module.js';
import { DevicesModule } from '../devices/devices.module.js';
import { RegistersModule } from '../registers/registers.module.js';
import { SearchController } from './search.controller.js';
import { SearchService } from './search.service.js';
import { SunspecService } from './sunspec.service.js';

@Module({
  imports: [AcquisitionModule, BookModule, DevicesModule, RegistersModule],
  controllers: [SearchController],
  providers: [SearchService, SunspecService],
})
export class SearchModule {}
