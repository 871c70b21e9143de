import {
  CutOffRuleInput,
  RestoreInput,
  SwitchCommand,
  SwitchInput,
  type CutOffRule,
  type LoadDraw,
  type Switch,
  type SwitchOperation,
} from '@loka/contract/control';
import { Body, Controller, Delete, Get, HttpCode, Param, ParseIntPipe, Post, Put } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { LOCAL_PERSON } from '../audit/person.js';
import { CutOffsService } from './cutOffs.service.js';
import { LoadDrawService } from './loadDraw.service.js';
import { SwitchesService } from './switches.service.js';

@ApiTags('control')
@Controller()
export class ControlController {
  constructor(
    private readonly switches: SwitchesService,
    private readonly cutOffs: CutOffsService,
    private readonly loadDraw: LoadDrawService,
  ) {}

  @Get('switches')
  list(): Switch[] {
    return this.switches.list();
  }

  @Get('switches/operations')
  operations(): Promise<SwitchOperation[]> {
    return this.switches.history();
  }

  @Post('switches')
  create(@Body() input: SwitchInput) {
    return this.switches.save(null, input);
  }

  @Put('switches/:id')
  update(@Param('id', ParseIntPipe) id: number, @Body() input: SwitchInput) {
    return this.switches.save(id, input);
  }

  @Delete('switches/:id')
  @HttpCode(204)
  remove(@Param('id', ParseIntPipe) id: number): Promise<void> {
    return this.switches.remove(id);
  }

  /** Commands a switch. The answer says what was sent; the outcome is read back afterwards. */
  @Post('switches/:id/operate')
  @HttpCode(202)
  operate(
    @Param('id', ParseIntPipe) id: number,
    @Body() { closed }: SwitchCommand,
  ): Promise<SwitchOperation> {
    return this.switches.operate(id, { closed, cause: 'person', who: LOCAL_PERSON, reason: 'By hand' });
  }

  /** What the load behind a reading usually draws, and how far off the reading may be. */
  @Get('points/:id/draw')
  draw(@Param('id', ParseIntPipe) id: number): Promise<LoadDraw> {
    return this.loadDraw.of(id);
  }

  @Get('cut-off-rules')
  rules(): CutOffRule[] {
    return this.cutOffs.list();
  }

  @Post('cut-off-rules')
  createRule(@Body() input: CutOffRuleInput) {
    return this.cutOffs.save(null, input);
  }

  @Put('cut-off-rules/:id')
  updateRule(@Param('id', ParseIntPipe) id: number, @Body() input: CutOffRuleInput) {
    return this.cutOffs.save(id, input);
  }

  @Delete('cut-off-rules/:id')
  @HttpCode(204)
  removeRule(@Param('id', ParseIntPipe) id: number): Promise<void> {
    return this.cutOffs.remove(id);
  }

  /** Ends the lockout of a cut-off, and closes the switch if so wished. */
  @Post('cut-off-rules/:id/restore')
  @HttpCode(204)
  restore(@Param('id', ParseIntPipe) id: number, @Body() { close }: RestoreInput): Promise<void> {
    return this.cutOffs.restore(id, close === true, LOCAL_PERSON);
  }
}
