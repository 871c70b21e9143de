import {
  SettingsToWrite,
  SettingsWanted,
  type DeviceSettingsRead,
  type SettingWritten,
} from '@loka/contract/settings';
import { Body, Controller, Get, HttpCode, Param, ParseIntPipe, Post, Put } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { LOCAL_PERSON } from '../audit/person.js';
import { SettingsService } from './settings.service.js';

@ApiTags('devices')
@Controller('settings/:id')
export class SettingsController {
  constructor(private readonly settings: SettingsService) {}

  /** What stands in a device, as it was read last, beside what is wanted. */
  @Get()
  of(@Param('id', ParseIntPipe) id: number): Promise<DeviceSettingsRead> {
    return this.settings.of(id);
  }

  /** Reads the settings of a device now. */
  @Post('read')
  @HttpCode(200)
  read(@Param('id', ParseIntPipe) id: number): Promise<DeviceSettingsRead> {
    return this.settings.read(id);
  }

  @Put('wanted')
  want(
    @Param('id', ParseIntPipe) id: number,
    @Body() { settings }: SettingsWanted,
  ): Promise<DeviceSettingsRead> {
    return this.settings.want(id, settings);
  }

  /** Writes settings into a device, and reads each one back. */
  @Post('write')
  @HttpCode(200)
  write(
    @Param('id', ParseIntPipe) id: number,
    @Body() { settings }: SettingsToWrite,
  ): Promise<SettingWritten[]> {
    return this.settings.write(id, settings, LOCAL_PERSON);
  }
}
