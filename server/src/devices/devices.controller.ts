import type { Dependent } from '@loka/contract/dependents';
import {
  BatchTakenBack,
  DeviceAssignment,
  DeviceBatch,
  DeviceInput,
  DeviceSettings,
  SettingsCopy,
  type Device,
  NewDevice,
  type FormerDevice,
} from '@loka/contract/devices';
import { LinkAddress, LinkInput, type Link } from '@loka/contract/links';
import { PointAssignment, PointAssignments, type FormerPoint, type Point } from '@loka/contract/points';
import {
  Body,
  Controller,
  Delete,
  Get,
  HttpCode,
  Param,
  ParseIntPipe,
  Post,
  Put,
  Query,
} from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { LinksService } from './links.service.js';
import { PointsService } from './points.service.js';
import { DevicesService } from './devices.service.js';

@ApiTags('devices')
@Controller()
export class DevicesController {
  constructor(
    private readonly devices: DevicesService,
    private readonly linksOf: LinksService,
    private readonly pointsOf: PointsService,
  ) {}

  @Get('links')
  links(): Promise<Link[]> {
    return this.linksOf.list();
  }

  @Post('links')
  createLink(@Body() input: LinkInput) {
    return this.linksOf.create(input);
  }

  @Put('links/:id')
  updateLink(
    @Param('id', ParseIntPipe) id: number,
    @Body() input: LinkInput,
    @Query('anyway') anyway?: string,
  ) {
    return this.linksOf.update(id, input, anyway === 'true');
  }

  @Delete('links/:id')
  @HttpCode(204)
  removeLink(@Param('id', ParseIntPipe) id: number): Promise<void> {
    return this.linksOf.remove(id);
  }

  /** The link to another address, set up like this one. */
  @Post('links/:id/another')
  anotherLink(@Param('id', ParseIntPipe) id: number, @Body() input: LinkAddress) {
    return this.linksOf.another(id, input);
  }

  /** Another token for a push link; shown this once. */
  @Post('links/:id/token')
  renewToken(@Param('id', ParseIntPipe) id: number) {
    return this.linksOf.renewToken(id);
  }

  @Get('devices')
  list(): Promise<Device[]> {
    return this.devices.devices();
  }

  @Post('devices')
  create(@Body() input: NewDevice) {
    return this.devices.createDevice(input);
  }

  /** Several devices like one, all or none. */
  @Post('devices/batch')
  createBatch(@Body() input: DeviceBatch) {
    return this.devices.createBatch(input);
  }

  /** Undoes the making of several devices at once. */
  @Post('devices/batch/take-back')
  @HttpCode(204)
  takeBackBatch(@Body() input: BatchTakenBack): Promise<void> {
    return this.devices.takeBackBatch(input);
  }

  /** Has other devices take over the map and the conductors of this one; answers what they had before. */
  @Post('devices/:id/copy-settings')
  @HttpCode(200)
  copySettings(
    @Param('id', ParseIntPipe) id: number,
    @Body() { deviceIds }: SettingsCopy,
  ): Promise<DeviceSettings> {
    return this.devices.copySettings(id, deviceIds);
  }

  /** Undoes that, with what it answered. */
  @Put('devices/settings')
  @HttpCode(204)
  giveBackSettings(@Body() settings: DeviceSettings): Promise<void> {
    return this.devices.giveBackSettings(settings);
  }

  @Put('devices/:id')
  update(@Param('id', ParseIntPipe) id: number, @Body() input: DeviceInput) {
    return this.devices.updateDevice(id, input);
  }

  @Delete('devices/:id')
  @HttpCode(204)
  remove(@Param('id', ParseIntPipe) id: number, @Query('anyway') anyway?: string): Promise<void> {
    return this.devices.remove(id, anyway === 'true');
  }

  /** What would no longer work without a device. */
  @Get('devices/:id/dependents')
  dependents(@Param('id', ParseIntPipe) id: number): Dependent[] {
    return this.devices.dependents(id);
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
    return this.pointsOf.assignAll(id, nodeId ?? null);
  }

  /** Devices that were removed, for the same unit to go on with what was read of it. */
  @Get('devices/former')
  formerDevices(): Promise<FormerDevice[]> {
    return this.devices.formerDevices();
  }

  /** What was read at a place by devices that were removed. */
  @Get('points/former')
  formerPoints(@Query('node', ParseIntPipe) node: number): FormerPoint[] {
    return this.pointsOf.formerPoints(node);
  }

  @Get('points')
  points(): Point[] {
    return this.pointsOf.points();
  }

  /** Gives several points their places, all or none. */
  @Put('points/assignments')
  @HttpCode(204)
  assignEach(@Body() { points }: PointAssignments): Promise<void> {
    return this.pointsOf.assignEach(points);
  }

  @Put('points/:id/assignment')
  assign(@Param('id', ParseIntPipe) id: number, @Body() assignment: PointAssignment): Promise<Point> {
    return this.pointsOf.assign(id, assignment);
  }
}
