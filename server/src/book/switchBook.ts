import { Injectable, OnModuleInit } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import { IsNull, Repository } from 'typeorm';
import { SwitchEntity } from './switch.entity.js';
import { Newest } from '../database/newest.js';

/** The switches of the site, kept in memory. */
@Injectable()
export class SwitchBook implements OnModuleInit {
  private readonly newest = new Newest();
  private switches: SwitchEntity[] = [];

  constructor(@InjectRepository(SwitchEntity) readonly rows: Repository<SwitchEntity>) {}

  onModuleInit(): Promise<void> {
    return this.reload();
  }

  reload(): Promise<void> {
    return this.newest.take(
      () => this.rows.find({ where: { removedAt: IsNull() }, order: { id: 'ASC' } }),
      (rows) => {
        this.switches = rows;
      },
    );
  }

  all(): SwitchEntity[] {
    return this.switches;
  }

  get(id: number): SwitchEntity | undefined {
    return this.switches.find((s) => s.id === id);
  }

  ofNode(nodeId: number): SwitchEntity | undefined {
    return this.switches.find((s) => s.nodeId === nodeId);
  }
}
