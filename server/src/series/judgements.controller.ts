import {
  CounterInput,
  ExchangeInput,
  VerdictInput,
  type CounterRulesSeen,
  type Doubt,
  type Exchange,
} from '@loka/contract/doubts';
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
import { LOCAL_PERSON } from '../audit/person.js';
import { JudgementsService } from './judgements.service.js';
import { PointsQuery } from './period.dto.js';

/** What did not count as it was read, and what people say of it. */
@ApiTags('readings')
@Controller()
export class JudgementsController {
  constructor(private readonly judgements: JudgementsService) {}

  @Get('doubts')
  list(@Query() { points, from, to }: PointsQuery): Promise<Doubt[]> {
    return this.judgements.list(points, from, to);
  }

  @Post('verdicts')
  judge(@Body() input: VerdictInput): Promise<{ id: number }> {
    return this.judgements.judge(input, LOCAL_PERSON);
  }

  @Delete('verdicts/:id')
  @HttpCode(204)
  unjudge(@Param('id', ParseIntPipe) id: number): Promise<void> {
    return this.judgements.unjudge(id);
  }

  @Get('points/:id/exchanges')
  exchanges(@Param('id', ParseIntPipe) id: number): Promise<Exchange[]> {
    return this.judgements.exchanges(id);
  }

  @Post('exchanges')
  @HttpCode(204)
  exchange(@Body() input: ExchangeInput): Promise<void> {
    return this.judgements.exchange(input, LOCAL_PERSON);
  }

  @Delete('points/:id/exchanges/:t')
  @HttpCode(204)
  takeExchangeBack(
    @Param('id', ParseIntPipe) id: number,
    @Param('t', ParseIntPipe) t: number,
  ): Promise<void> {
    return this.judgements.takeExchangeBack(id, t);
  }

  @Get('points/:id/counter')
  rules(@Param('id', ParseIntPipe) id: number): CounterRulesSeen {
    return this.judgements.rulesOf(id);
  }

  @Put('points/:id/counter')
  setRules(@Param('id', ParseIntPipe) id: number, @Body() input: CounterInput): Promise<CounterRulesSeen> {
    return this.judgements.setRules(id, input);
  }
}
