import { Injectable, OnModuleInit } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import { Repository } from 'typeorm';
import { InstallationNodeEntity } from './installationNode.entity.js';
import { Newest } from '../database/newest.js';

/** The tree of the installation, kept in memory. */
@Injectable()
export class InstallationBook implements OnModuleInit {
  private readonly newest = new Newest();
  private nodes = new Map<number, InstallationNodeEntity>();

  constructor(@InjectRepository(InstallationNodeEntity) readonly rows: Repository<InstallationNodeEntity>) {}

  onModuleInit(): Promise<void> {
    return this.reload();
  }

  reload(): Promise<void> {
    return this.newest.take(
      () => this.rows.find({ order: { position: 'ASC', id: 'ASC' } }),
      (rows) => {
        this.nodes = new Map(rows.map((row) => [row.id, row]));
      },
    );
  }

  node(id: number): InstallationNodeEntity | undefined {
    return this.nodes.get(id);
  }

  all(): InstallationNodeEntity[] {
    return [...this.nodes.values()];
  }

  /** The places that feed a place, the nearest first. */
  above(id: number): InstallationNodeEntity[] {
    const parentId = this.nodes.get(id)?.parentId ?? null;
    const parent = parentId === null ? undefined : this.nodes.get(parentId);
    return parent ? [parent, ...this.above(parent.id)] : [];
  }

  childrenOf(id: number): InstallationNodeEntity[] {
    return this.all().filter((node) => node.parentId === id);
  }
}
