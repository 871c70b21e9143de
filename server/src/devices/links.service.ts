import type { Dependent } from '@loka/contract/dependents';
import {
  hasAddresses,
  isNetworkKind,
  type Link,
  type LinkAddress,
  type LinkInput,
  type MadeLink,
} from '@loka/contract/links';
import { Injectable } from '@nestjs/common';
import { ChangeFeed } from '../live/changeFeed.js';
import { Dependents } from '../book/dependents.js';
import { changeVersioned } from '../book/versioned.js';
import { invalidField, notFound, Problem, RestsOnIt } from '../problem/errors.js';
import { AcquisitionHealth } from './acquisitionHealth.js';
import { DeviceBook } from '../book/deviceBook.js';
import { LinkEntity } from '../book/link.entity.js';
import { newToken } from './linkToken.js';

/** The ways to reach devices. */
@Injectable()
export class LinksService {
  constructor(
    private readonly book: DeviceBook,
    private readonly health: AcquisitionHealth,
    private readonly changes: ChangeFeed,
    private readonly resting: Dependents,
  ) {}

  async list(): Promise<Link[]> {
    const links = await this.book.links.find({ order: { id: 'ASC' } });
    return links.map(({ secret, ...link }) => ({
      ...link,
      hasPassword: link.kind === 'mqtt' && secret !== null && secret !== '',
      health: this.health.ofLink(link.id, link.enabled),
    }));
  }

  /** Makes a link. A push link gets a token, which is told this once. */
  async create(input: LinkInput): Promise<MadeLink> {
    await this.refuseSame(input, null);
    const { password, ...link } = input;
    const made = input.kind === 'http-push' ? newToken() : null;
    const { id } = await this.save({ ...link, version: 1, secret: made?.secret ?? password ?? null });
    return made ? { id, token: made.token } : { id };
  }

  /** @param anyway to be switched off although something depends on what is read over it */
  async update(id: number, input: LinkInput, anyway = true): Promise<MadeLink> {
    const before = await this.book.links.findOneBy({ id });
    if (!before) throw notFound('link', id);
    if (before.kind !== input.kind)
      throw invalidField('kind', 'How its devices are reached stays; make a new link instead.');
    await this.refuseSame(input, id);
    const off = before.enabled && !input.enabled && !anyway;
    const resting = off ? this.dependents(id) : [];
    if (resting.length > 0) throw new RestsOnIt(resting);
    const { password, ...link } = input;
    // A password was given for one broker, and is not sent to another.
    const elsewhere = before.kind === 'mqtt' && (before.host !== input.host || before.port !== input.port);
    const secret = password ?? (elsewhere ? null : before.secret);
    await this.book.links.manager.transaction((tables) =>
      changeVersioned(tables, LinkEntity, { id }, link, { what: 'link', more: { secret } }),
    );
    await this.afterChange();
    return { id };
  }

  /** What would no longer work without a link. */
  dependents(id: number): Dependent[] {
    return this.resting.of(this.book.allPoints().flatMap((p) => (p.linkId === id ? [p.id] : [])));
  }

  /** The link to another address: the one that is there, or a new one that is set up like `likeId`. */
  async another(likeId: number, { host, port }: LinkAddress): Promise<{ id: number; made: boolean }> {
    const like = await this.book.links.findOneBy({ id: likeId });
    if (!like) throw notFound('link', likeId);
    if (!hasAddresses(like.kind))
      throw new Problem('no-address', `“${like.name}” is not an address on a network.`);
    const there = await this.at(like, { host, port });
    if (there) return { id: there.id, made: false };
    const { id: _, secret: __, ...settings } = like;
    const { id } = await this.save({
      ...settings,
      version: 1,
      secret: null,
      host,
      port,
      enabled: true,
      name: `${host}:${port}`,
    });
    return { id, made: true };
  }

  /** The link of the same kind to an address, when there is one. */
  at({ kind }: Pick<LinkEntity, 'kind'>, { host, port }: LinkAddress): Promise<LinkEntity | null> {
    return this.book.links.findOneBy({ kind, host, port });
  }

  /** Gives a push link another token; the one before is good for nothing from now on. */
  async renewToken(id: number): Promise<MadeLink> {
    const link = await this.book.links.findOneBy({ id });
    if (!link) throw notFound('link', id);
    if (link.kind !== 'http-push') throw new Problem('no-push-link', 'Only a push link has a token.');
    const { token, secret } = newToken();
    await this.save({ ...link, secret });
    return { id, token };
  }

  async remove(id: number): Promise<void> {
    if (!(await this.book.links.existsBy({ id }))) throw notFound('link', id);
    const devices = await this.book.devices.countBy({ linkId: id });
    if (devices > 0)
      throw new Problem(
        'link-in-use',
        `${devices} device${devices === 1 ? ' has' : 's have'} readings over this link. Switch the link off instead.`,
      );
    await this.book.links.delete(id);
    await this.afterChange();
  }

  private async refuseSame(input: LinkInput, id: number | null): Promise<void> {
    const { kind, host, port, path, user } = input;
    const others = (await this.book.links.findBy({ kind })).filter((l) => l.id !== id);
    if (kind === 'modbus-serial') {
      const same = others.find((l) => l.path === path);
      if (same)
        throw invalidField(
          'path',
          `“${same.name}” already uses ${path}. Add the device there with its unit id.`,
        );
    } else if (isNetworkKind(kind)) {
      const same = others.find(
        (l) => l.host === host && l.port === port && (kind !== 'mqtt' || l.user === user),
      );
      if (same)
        throw invalidField(
          'port',
          `“${same.name}” already is the link to ${host}, port ${port}. Add the device there${kind === 'mqtt' ? '' : ' with its unit id'}.`,
        );
    }
  }

  private async save(link: Partial<LinkEntity>): Promise<LinkEntity> {
    const saved = await this.book.links.save(link as LinkEntity);
    await this.afterChange();
    return saved;
  }

  private async afterChange(): Promise<void> {
    await this.book.reload();
    this.changes.say('links');
  }
}
