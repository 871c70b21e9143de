import { VirtualMeterInput, type VirtualMeter } from '@loka/contract/virtual';
import { Body, Controller, Delete, Get, HttpCode, Param, ParseIntPipe, Post, Put } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { VirtualMetersService } from './virtualMeters.service.js';

@ApiTags('virtual meters')
@Controller('virtual-meters')
export class VirtualController {
  constructor(private readonly meters: VirtualMetersService) {}

  @Get()
  list(): VirtualMeter[] {
    return this.meters.list();
  }

  @Post()
  create(@Body() input: VirtualMeterInput): Promise<VirtualMeter> {
    return this.meters.create(input);
  }

  @Put(':id')
  update(@Param('id', ParseIntPipe) id: number, @Body() input: VirtualMeterInput): Promise<VirtualMeter> {
    return this.meters.update(id, input);
  }

  @Delete(':id')
  @HttpCode(204)
  remove(@Param('id', ParseIntPipe) id: number): Promise<void> {
    return this.meters.setRemoved(id, Date.now());
  }

  /** Undoes a removal. */
  @Post(':id/restore')
  @HttpCode(204)
  restore(@Param('id', ParseIntPipe) id: number): Promise<void> {
    return this.meters.setRemoved(id, null);
  }
}
