import { PlanInput, type Plan } from '@loka/contract/plans';
import { Body, Controller, Delete, Get, HttpCode, Param, ParseIntPipe, Post, Put } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { LOCAL_PERSON } from '../audit/person.js';
import { PlansService } from './plans.service.js';

@ApiTags('plans')
@Controller('plans')
export class PlansController {
  constructor(private readonly plans: PlansService) {}

  @Get()
  list(): Promise<Plan[]> {
    return this.plans.list();
  }

  @Post()
  create(@Body() input: PlanInput): Promise<Plan> {
    return this.plans.create(input, LOCAL_PERSON);
  }

  @Put(':id')
  change(@Param('id', ParseIntPipe) id: number, @Body() input: PlanInput): Promise<Plan> {
    return this.plans.change(id, input, LOCAL_PERSON);
  }

  @Delete(':id')
  @HttpCode(204)
  remove(@Param('id', ParseIntPipe) id: number): Promise<void> {
    return this.plans.remove(id);
  }
}
