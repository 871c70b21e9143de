import { Module } from '@nestjs/common';
import { AcquisitionModule } from '../acquisition/acquisition.module.js';
import { BookModule } from '../book/book.module.js';
import { CommandsController } from './commands.controller.js';
import { CommandsService } from './commands.service.js';

@Module({
  imports: [AcquisitionModule, BookModule],
  controllers: [CommandsController],
  providers: [CommandsService],
})
export class CommandsModule {}
