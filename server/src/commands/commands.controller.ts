import { CommandInput, type CommandDone } from '@loka/contract/commands';
import { Body, Controller, HttpCode, Param, ParseIntPipe, Post } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { CommandsService } from './commands.service.js';

@ApiTags('devices')
@Controller('points')
export class CommandsController {
  constructor(private readonly commands: CommandsService) {}

  /** Writes a value to a device: the one that a command always sends, for example to clear a peak, or one that is typed. */
  @Post(':id/send')
  @HttpCode(200)
  send(@Param('id', ParseIntPipe) id: number, @Body() { value }: CommandInput): Promise<CommandDone> {
    return this.commands.send(id, value ?? null);
  }
}
