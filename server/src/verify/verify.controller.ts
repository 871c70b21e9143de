import {
  MendedInput,
  StepMeant,
  StepTestInput,
  VerificationInput,
  type StepTest,
  type Verification,
  type VerificationRecord,
} from '@loka/contract/verify';
import { Body, Controller, Delete, Get, HttpCode, Param, ParseIntPipe, Post } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { LOCAL_PERSON } from '../audit/person.js';
import { PastService } from './past.service.js';
import { StepTestsService } from './stepTests.service.js';
import { VerificationsService } from './verifications.service.js';

@ApiTags('verify')
@Controller('verifications/:nodeId')
export class VerifyController {
  constructor(
    private readonly verifications: VerificationsService,
    private readonly tests: StepTestsService,
    private readonly past: PastService,
  ) {}

  /** How a place is wired, as far as its readings tell. */
  @Get()
  of(@Param('nodeId', ParseIntPipe) nodeId: number): Promise<Verification> {
    return this.verifications.of(nodeId);
  }

  /** Records how the wiring was found, or left. */
  @Post('records')
  record(
    @Param('nodeId', ParseIntPipe) nodeId: number,
    @Body() { kind }: VerificationInput,
  ): Promise<VerificationRecord> {
    return this.verifications.record(nodeId, kind, LOCAL_PERSON);
  }

  /** After rewiring: only what is read from now on counts. */
  @Post('look-anew')
  @HttpCode(204)
  lookAnew(@Param('nodeId', ParseIntPipe) nodeId: number): Promise<void> {
    return this.verifications.rewired(nodeId, LOCAL_PERSON);
  }

  /** Decides what becomes of what was read while a fault stood. */
  @Post('mended')
  @HttpCode(204)
  mended(@Param('nodeId', ParseIntPipe) nodeId: number, @Body() input: MendedInput): Promise<void> {
    return this.past.mend(nodeId, input);
  }

  @Get('step-tests')
  ended(@Param('nodeId', ParseIntPipe) nodeId: number): Promise<StepTest[]> {
    return this.tests.ended(nodeId);
  }

  @Post('step-test')
  start(@Param('nodeId', ParseIntPipe) nodeId: number, @Body() input: StepTestInput): Promise<StepTest> {
    return this.tests.start(nodeId, input, LOCAL_PERSON);
  }

  /** Has the relay make the step whose turn it is. */
  @Post('step-test/operate')
  operate(@Param('nodeId', ParseIntPipe) nodeId: number): Promise<StepTest> {
    return this.tests.operate(nodeId, LOCAL_PERSON);
  }

  @Post('step-test/skip')
  skip(@Param('nodeId', ParseIntPipe) nodeId: number, @Body() meant?: StepMeant): Promise<StepTest> {
    return this.tests.skip(nodeId, meant?.step);
  }

  @Post('step-test/not-this')
  notThis(@Param('nodeId', ParseIntPipe) nodeId: number, @Body() meant?: StepMeant): Promise<StepTest> {
    return this.tests.notThis(nodeId, meant?.step);
  }

  @Delete('step-test')
  end(@Param('nodeId', ParseIntPipe) nodeId: number): Promise<StepTest> {
    return this.tests.end(nodeId);
  }
}
