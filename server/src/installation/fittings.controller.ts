import type { Fitting } from '@loka/contract/fittings';
import { Controller, Get, ParseIntPipe, Query } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { FittingsBook } from '../book/fittingsBook.js';

@ApiTags('installation')
@Controller('fittings')
export class FittingsController {
  constructor(private readonly fittings: FittingsBook) {}

  /** What was fitted at a place, and when; newest first. */
  @Get()
  of(@Query('node', ParseIntPipe) node: number): Promise<Fitting[]> {
    return this.fittings.of(node);
  }
}
