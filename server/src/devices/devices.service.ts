import type { Device, DeviceInput, Link, LinkInput, Point, PointAssignment } from '@loka/contract/devices';
import { Injectable } from '@nestjs/common';
import { AcquisitionHealth } from './acquisitionHealth.js';
import { ChangeFeed } from '../live/changeFeed.js';
import { LiveReadings } from '../live/liveReadings.js';
import { conflict, invalidField, notFound } from '../problem/problem.js';
import { CorrectionBook } from '../calibration/correctionBook.js';
import { InstallationBook } from '../installation/installationBook.js';
import { DeviceBook, type KnownPoint } from './deviceBook.js';
import type { LinkEntity } from './link.entity.js';

/** Links, devices and their points, as the person fitting them sees them. */
@Injectable()
export class DevicesService {
  constructor(
    private readonly book: DeviceBook,
    private readonly health: AcquisitionHealth,
    private readonly corrections: CorrectionBook,
    private readonly installation: InstallationBook,
    private readonly live: LiveReadings,
    private readonly changes: ChangeFeed,
  ) {}

  async links(): Promise<Link[]> {
    const links = await this.book.links.find({ order: { id: 'ASC' } });
    return links.map((link) => ({ ...link, health: this.health.ofLink(link.id, link.enabled) }));
  }

  async createLink(input: LinkInput): Promise<LinkEntity> {
    await this.refuseSameAddress(input, null);
    return this.afterLinkChange(await this.book.links.save({ ...input }));
  }

  async updateLink(id: number, input: LinkInput): Promise<LinkEntity> {
    if (!(await this.book.links.existsBy({ id }))) throw notFound('link', id);
    await this.refuseSameAddress(input, id);
    return this.afterLinkChange(await this.book.links.save({ id, ...input }));
  }

  async removeLink(id: number): Promise<void> {
    if (!(await this.book.links.existsBy({ id }))) throw notFound('link', id);
    const devices = await this.book.devices.countBy({ linkId: id });
    if (devices > 0)
      throw conflict(
        'link-in-use',
        `${devices} device${devices === 1 ? ' has' : 's have'} readings over this link. Switch the link off instead.`,
      );
    await this.book.links.delete(id);
    await this.afterLinkChange(null);
  }

  async devices(): Promise<Device[]> {
    const points = this.book.allPoints();
    return (await this.book.presentDevices()).map(({ id, linkId, mapId, name, unit }) => ({
      id,
      linkId,
      mapId,
      name,
      unit,
      health: this.health.ofDevice(id),
      pointIds: points.filter((p) => p.deviceId === id).map((p) => p.id),
    }));
  }

  async createDevice(input: DeviceInput): Promise<{ id: number }> {
    await this.checkDevice(input, null);
    const { id } = await this.book.devices.save({ ...input, removedAt: null });
    return this.afterDeviceChange(id);
  }

  async updateDevice(id: number, input: DeviceInput): Promise<{ id: number }> {
    if (!(await this.book.devices.existsBy({ id }))) throw notFound('device', id);
    await this.checkDevice(input, id);
    await this.book.devices.update(id, { ...input });
    return this.afterDeviceChange(id);
  }

  /** Takes a device off the site or, with `removedAt` null, puts it back. Its readings stay either way. */
  async setRemoved(id: number, removedAt: number | null): Promise<void> {
    if (!(await this.book.devices.existsBy({ id }))) throw notFound('device', id);
    const pointIds = this.book
      .allPoints()
      .filter((p) => p.deviceId === id)
      .map((p) => p.id);
    await this.book.devices.update(id, { removedAt });
    await this.afterDeviceChange(id);
    // Only now: from here on nothing of it is taken in any more, not even a request that was under way.
    if (removedAt !== null) this.live.forget(pointIds);
  }

  points(): Point[] {
    return this.book.allPoints().map((point) => this.toPoint(point));
  }

  async assign(id: number, { nodeId, phase }: PointAssignment): Promise<Point> {
    if (!this.book.point(id)) throw notFound('point', id);
    if (nodeId !== null && !this.installation.node(nodeId))
      throw invalidField('nodeId', 'That circuit is no longer there.');
    await this.book.pointRows.update(id, { nodeId: nodeId ?? null, phase: phase ?? null });
    await this.book.reload();
    this.changes.say('devices', 'installation');
    return this.toPoint(this.book.point(id) as KnownPoint);
  }

  /** Gives all points of a device to one place; what was said of their conductors stays. */
  async assignAll(deviceId: number, nodeId: number | null): Promise<Point[]> {
    if (!(await this.book.devices.existsBy({ id: deviceId }))) throw notFound('device', deviceId);
    if (nodeId !== null && !this.installation.node(nodeId))
      throw invalidField('nodeId', 'That circuit is no longer there.');
    await this.book.pointRows.update({ deviceId }, { nodeId });
    await this.book.reload();
    this.changes.say('devices', 'installation');
    return this.points().filter((p) => p.deviceId === deviceId);
  }

  private toPoint({ id, deviceId, deviceName, key, definition, nodeId, phase }: KnownPoint): Point {
    return { id, deviceId, deviceName, key, definition, nodeId, phase, calibrated: this.corrections.has(id) };
  }

  private async refuseSameAddress(input: LinkInput, id: number | null): Promise<void> {
    const same = await this.book.links.findOneBy({ host: input.host, port: input.port });
    if (same && same.id !== id)
      throw invalidField(
        'port',
        `“${same.name}” already is the link to ${input.host}, port ${input.port}. Add the device there with its unit id.`,
      );
  }

  private async checkDevice(input: DeviceInput, id: number | null): Promise<void> {
    if (!(await this.book.links.existsBy({ id: input.linkId })))
      throw invalidField('linkId', 'Choose a link.');
    if (!(await this.book.maps.existsBy({ id: input.mapId })))
      throw invalidField('mapId', 'Choose a register map.');
    const same = (await this.book.presentDevices()).find(
      (d) => d.linkId === input.linkId && d.unit === input.unit && d.mapId === input.mapId && d.id !== id,
    );
    if (same)
      throw invalidField(
        'unit',
        `“${same.name}” already reads unit ${input.unit} on this link with this map.`,
      );
  }

  private async afterLinkChange<T>(result: T): Promise<T> {
    await this.book.reload();
    this.changes.say('links');
    return result;
  }

  private async afterDeviceChange(id: number): Promise<{ id: number }> {
    await this.book.matchPoints(id);
    await this.book.reload();
    this.changes.say('devices', 'register-maps', 'installation');
    return { id };
  }
}
