import type { PlanInput } from '@loka/contract/plans';
import { tidiedPlan } from '@loka/core/plans';
import { Injectable } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import { Repository } from 'typeorm';
import { changeVersioned } from '../book/versioned.js';
import { ChangeFeed } from '../live/changeFeed.js';
import { invalidField, notFound } from '../problem/errors.js';
import { PlanEntity } from './plan.entity.js';

const MOST = 50;

/** Floor plans. */
@Injectable()
export class PlansService {
  constructor(
    @InjectRepository(PlanEntity) private readonly rows: Repository<PlanEntity>,
    private readonly changes: ChangeFeed,
  ) {}

  /** All, by name. */
  list(): Promise<PlanEntity[]> {
    return this.rows.find({ order: { name: 'ASC', id: 'ASC' } });
  }

  async create(input: PlanInput, who: string): Promise<PlanEntity> {
    if ((await this.rows.count()) >= MOST)
      throw invalidField('name', `There are ${MOST} plans already; remove one first.`);
    const row = await this.rows.save({ ...checked(input), version: 1, changedAt: Date.now(), who });
    this.changes.say('plans');
    return row;
  }

  /** @throws Problem not-found, ChangedMeanwhile */
  async change(id: number, input: PlanInput, who: string): Promise<PlanEntity> {
    const { version } = input;
    const sent = { ...checked(input), ...(version === undefined ? {} : { version }) };
    const row = await this.rows.manager.transaction((tables) =>
      changeVersioned(tables, PlanEntity, { id }, sent, {
        what: 'plan',
        more: { changedAt: Date.now(), who },
      }),
    );
    this.changes.say('plans');
    return row;
  }

  /** @throws Problem not-found */
  async remove(id: number): Promise<void> {
    const { affected } = await this.rows.delete(id);
    if (!affected) throw notFound('plan', id);
    this.changes.say('plans');
  }
}

function checked({ name, content }: PlanInput): Pick<PlanEntity, 'name' | 'content'> {
  if (name.trim() === '') throw invalidField('name', 'Give it a name of 1 to 80 letters.');
  return { name: name.trim(), content: tidiedPlan(content) };
}
