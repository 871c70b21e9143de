import { FastLookInput, type FastLook, type FastLooksSeen } from '@loka/contract/fastLook';
import { Body, Controller, Delete, Get, HttpCode, Param, ParseIntPipe, Post, Query } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { LOCAL_PERSON } from '../audit/person.js';
import { FastLooksService } from './fastLooks.service.js';

@ApiTags('readings')
@Controller('fast-looks')
export class FastLooksController {
  constructor(private readonly looks: FastLooksService) {}

  /** The look under way at a place, and those that are kept. */
  @Get()
  of(@Query('node', ParseIntPipe) node: number): Promise<FastLooksSeen> {
    return this.looks.of(node);
  }

  @Get(':id')
  one(@Param('id', ParseIntPipe) id: number): Promise<FastLook> {
    return this.looks.one(id);
  }

  /** Polls the device of a place as fast as it answers, for some seconds. */
  @Post()
  start(@Body() input: FastLookInput): FastLook {
    return this.looks.start(input, LOCAL_PERSON);
  }

  @Post(':node/stop')
  @HttpCode(204)
  stop(@Param('node', ParseIntPipe) node: number): void {
    this.looks.stop(node);
  }

  @Delete(':id')
  @HttpCode(204)
  remove(@Param('id', ParseIntPipe) id: number): Promise<void> {
    return this.looks.remove(id);
  }
}
