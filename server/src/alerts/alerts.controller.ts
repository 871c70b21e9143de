import { AlertRuleInput, type Alert, type AlertRule } from '@loka/contract/alerts';
import {
  Body,
  Controller,
  Delete,
  Get,
  HttpCode,
  Param,
  ParseIntPipe,
  ParseUUIDPipe,
  Post,
  Put,
} from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { LOCAL_PERSON } from '../audit/person.js';
import { AlertsService } from './alerts.service.js';

const HISTORY = 200;

@ApiTags('alerts')
@Controller()
export class AlertsController {
  constructor(private readonly alerts: AlertsService) {}

  @Get('alerts')
  open(): Alert[] {
    return this.alerts.listOpen();
  }

  @Get('alerts/history')
  history(): Promise<Alert[]> {
    return this.alerts.history(HISTORY);
  }

  @Post('alerts/:id/acknowledge')
  @HttpCode(200)
  acknowledge(@Param('id', ParseUUIDPipe) id: string): Alert {
    return this.alerts.acknowledge(id, LOCAL_PERSON);
  }

  @Get('alert-rules')
  rules(): AlertRule[] {
    return this.alerts.listRules();
  }

  @Post('alert-rules')
  create(@Body() input: AlertRuleInput) {
    return this.alerts.saveRule(null, input);
  }

  @Put('alert-rules/:id')
  update(@Param('id', ParseIntPipe) id: number, @Body() input: AlertRuleInput) {
    return this.alerts.saveRule(id, input);
  }

  @Delete('alert-rules/:id')
  @HttpCode(204)
  remove(@Param('id', ParseIntPipe) id: number): Promise<void> {
    return this.alerts.removeRule(id);
  }
}
