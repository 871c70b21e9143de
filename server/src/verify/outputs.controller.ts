import type { OutputTrial } from '@loka/contract/outputs';
import { Controller, Delete, Get, HttpCode, Param, ParseIntPipe, Post } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { LOCAL_PERSON } from '../audit/person.js';
import { OutputsService } from './outputs.service.js';

@ApiTags('verify')
@Controller('outputs')
export class OutputsController {
  constructor(private readonly outputs: OutputsService) {}

  /** The last trial of each switch. */
  @Get()
  list(): Promise<OutputTrial[]> {
    return this.outputs.list();
  }

  /** Operates the relay of a switch for some seconds, to see which circuit moves with it. */
  @Post(':switchId/try')
  start(@Param('switchId', ParseIntPipe) switchId: number): Promise<OutputTrial> {
    return this.outputs.start(switchId, LOCAL_PERSON);
  }

  /** Puts the contact back at once. */
  @Delete('trial')
  @HttpCode(204)
  stop(): Promise<void> {
    return this.outputs.stop();
  }
}
