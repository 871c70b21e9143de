import {
  RegisterMapFile,
  RegisterMapInput,
  type MapImpact,
  type MapVersion,
  type RegisterMap,
} from '@loka/contract/registers';
import { Body, Controller, Delete, Get, HttpCode, Param, ParseIntPipe, Post, Put, Res } from '@nestjs/common';
import { ApiProduces, ApiTags } from '@nestjs/swagger';
import type { Response } from 'express';
import { sendFile } from '../files/sendFile.js';
import { MapFilesService } from './mapFiles.service.js';
import { RegistersService } from './registers.service.js';

@ApiTags('registers')
@Controller('register-maps')
export class RegistersController {
  constructor(
    private readonly registers: RegistersService,
    private readonly files: MapFilesService,
  ) {}

  @Get()
  list(): Promise<RegisterMap[]> {
    return this.registers.list();
  }

  @Post()
  create(@Body() input: RegisterMapInput) {
    return this.registers.create(input);
  }

  /** Makes a map from a file; everything that is wrong with it is listed by line, and nothing is half taken. */
  @Post('import')
  importFile(@Body() file: RegisterMapFile) {
    return this.files.importFile(file);
  }

  @Get(':id/export.csv')
  @ApiProduces('text/csv')
  async csv(@Param('id', ParseIntPipe) id: number, @Res() response: Response): Promise<void> {
    const { name, text } = await this.files.csv(id);
    sendFile(response, `${name}.csv`, 'text/csv; charset=utf-8; header=present', text);
  }

  @Get(':id/export.json')
  async json(@Param('id', ParseIntPipe) id: number, @Res() response: Response): Promise<void> {
    const { name, text } = await this.files.json(id);
    sendFile(response, `${name}.json`, 'application/json; charset=utf-8', text);
  }

  /** What saving would change, and which devices and circuits it touches. */
  @Post(':id/impact')
  @HttpCode(200)
  impact(@Param('id', ParseIntPipe) id: number, @Body() input: RegisterMapInput): Promise<MapImpact> {
    return this.registers.impact(id, input);
  }

  @Get(':id/versions')
  versions(@Param('id', ParseIntPipe) id: number): Promise<MapVersion[]> {
    return this.registers.versions(id);
  }

  /** Makes an earlier version the newest one. */
  @Post(':id/versions/:version/restore')
  restore(@Param('id', ParseIntPipe) id: number, @Param('version', ParseIntPipe) version: number) {
    return this.registers.restore(id, version);
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
