import { RegisterMapInput, type RegisterMap } from '@loka/contract/registers';
import { Body, Controller, Delete, Get, HttpCode, Param, ParseIntPipe, Post, Put } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { RegistersService } from './registers.service.js';

@ApiTags('registers')
@Controller('register-maps')
export class RegistersController {
  constructor(private readonly registers: RegistersService) {}

  @Get()
  list(): Promise<RegisterMap[]> {
    return this.registers.list();
  }

  @Post()
  create(@Body() input: RegisterMapInput) {
    return this.registers.create(input);
  }

  @Put(':id')
  update(@Param('id', ParseIntPipe) id: number, @Body() input: RegisterMapInput) {
    return this.registers.update(id, input);
  }

  @Delete(':id')
  @HttpCode(204)
  remove(@Param('id', ParseIntPipe) id: number): Promise<void> {
    return this.registers.remove(id);
  }
}
