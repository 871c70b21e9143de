import { Injectable, OnModuleInit } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import { IsNull, Repository } from 'typeorm';
import { SwitchEntity } from './control.entity.js';
import { Turns } from '../database/turns.js';

/** The switches of the site, kept in memory. */
@Injectable()
export class SwitchBook implements OnModuleInit {
  private readonly turns = new Turns();
  private switches: SwitchEntity[] = [];

  constructor(@InjectRepository(SwitchEntity) readonly rows: Repository<SwitchEntity>) {}

  onModuleInit(): Promise<void> {
    return this.reload();
  }

  reload(): Promise<void> {
    return this.turns.take(async () => {
      this.switches = await this.rows.find({ where: { removedAt: IsNull() }, order: { id: 'ASC' } });
    });
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
