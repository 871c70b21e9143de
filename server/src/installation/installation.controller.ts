import { NodeInput, type InstallationNode } from '@loka/contract/installation';
import { Body, Controller, Delete, Get, HttpCode, Param, ParseIntPipe, Post, Put } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { InstallationService } from './installation.service.js';

@ApiTags('installation')
@Controller('installation')
export class InstallationController {
  constructor(private readonly installation: InstallationService) {}

  @Get()
  list(): InstallationNode[] {
    return this.installation.list();
  }

  @Post()
  create(@Body() input: NodeInput) {
    return this.installation.create(input);
  }

  @Put(':id')
  update(@Param('id', ParseIntPipe) id: number, @Body() input: NodeInput) {
    return this.installation.update(id, input);
  }

  @Delete(':id')
  @HttpCode(204)
  remove(@Param('id', ParseIntPipe) id: number): Promise<void> {
    return this.installation.remove(id);
  }
}
