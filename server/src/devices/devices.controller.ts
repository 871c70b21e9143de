import {
  DeviceAssignment,
  DeviceInput,
  LinkInput,
  PointAssignment,
  type Device,
  type Link,
  type Point,
} from '@loka/contract/devices';
import { Body, Controller, Delete, Get, HttpCode, Param, ParseIntPipe, Post, Put } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { DevicesService } from './devices.service.js';

@ApiTags('devices')
@Controller()
export class DevicesController {
  constructor(private readonly devices: DevicesService) {}

  @Get('links')
  links(): Promise<Link[]> {
    return this.devices.links();
  }

  @Post('links')
  createLink(@Body() input: LinkInput) {
    return this.devices.createLink(input);
  }

  @Put('links/:id')
  updateLink(@Param('id', ParseIntPipe) id: number, @Body() input: LinkInput) {
    return this.devices.updateLink(id, input);
  }

  @Delete('links/:id')
  @HttpCode(204)
  removeLink(@Param('id', ParseIntPipe) id: number): Promise<void> {
    return this.devices.removeLink(id);
  }

  @Get('devices')
  list(): Promise<Device[]> {
    return this.devices.devices();
  }

  @Post('devices')
  create(@Body() input: DeviceInput) {
    return this.devices.createDevice(input);
  }

  @Put('devices/:id')
  update(@Param('id', ParseIntPipe) id: number, @Body() input: DeviceInput) {
    return this.devices.updateDevice(id, input);
  }

  @Delete('devices/:id')
  @HttpCode(204)
  remove(@Param('id', ParseIntPipe) id: number): Promise<void> {
    return this.devices.setRemoved(id, Date.now());
  }

  /** Undoes a removal. */
  @Post('devices/:id/restore')
  @HttpCode(204)
  restore(@Param('id', ParseIntPipe) id: number): Promise<void> {
    return this.devices.setRemoved(id, null);
  }

  /** Gives all points of a device to one place. */
  @Put('devices/:id/assignment')
  assignAll(@Param('id', ParseIntPipe) id: number, @Body() { nodeId }: DeviceAssignment): Promise<Point[]> {
    return this.devices.assignAll(id, nodeId ?? null);
  }

  @Get('points')
  points(): Point[] {
    return this.devices.points();
  }

  @Put('points/:id/assignment')
  assign(@Param('id', ParseIntPipe) id: number, @Body() assignment: PointAssignment): Promise<Point> {
    return this.devices.assign(id, assignment);
  }
}
