import { InstrumentInput, type Instrument } from '@loka/contract/instruments';
import { Body, Controller, Delete, Get, HttpCode, Param, ParseIntPipe, Post, Put } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { InstrumentsService } from './instruments.service.js';

@ApiTags('calibration')
@Controller('instruments')
export class InstrumentsController {
  constructor(private readonly instruments: InstrumentsService) {}

  @Get()
  list(): Promise<Instrument[]> {
    return this.instruments.list();
  }

  @Post()
  add(@Body() input: InstrumentInput): Promise<Instrument> {
    return this.instruments.save(null, input);
  }

  @Put(':id')
  change(@Param('id', ParseIntPipe) id: number, @Body() input: InstrumentInput): Promise<Instrument> {
    return this.instruments.save(id, input);
  }

  @Delete(':id')
  @HttpCode(204)
  remove(@Param('id', ParseIntPipe) id: number): Promise<void> {
    return this.instruments.remove(id);
  }

  /** Puts one that was removed back on the list. */
  @Post(':id/put-back')
  @HttpCode(204)
  putBack(@Param('id', ParseIntPipe) id: number): Promise<void> {
    return this.instruments.putBack(id);
  }
}
