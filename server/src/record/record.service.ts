import type { Calibration } from '@loka/contract/calibration';
import type { InstallationNode } from '@loka/contract/installation';
import type { CircuitRecord, RecordSection, SiteRecord } from '@loka/contract/record';
import { isReadable } from '@loka/core/points';
import { driftInWords } from '@loka/core/calibration';
import { quantityInfo } from '@loka/core/quantities';
import { sensingInWords } from '@loka/core/sensing';
import { Injectable } from '@nestjs/common';
import { DeviceBook, type KnownPoint } from '../book/deviceBook.js';
import { FittingsBook } from '../book/fittingsBook.js';
import { InstallationBook } from '../book/installationBook.js';
import { DriftsService } from '../calibration/drifts.service.js';
import { CalibrationService } from '../calibration/calibration.service.js';
import { InstallationService } from '../installation/installation.service.js';
import { InstrumentsService } from '../instruments/instruments.service.js';
import { notFound } from '../problem/errors.js';
import { CorrectionBook } from '../series/correctionBook.js';
import { SiteService } from '../site/site.service.js';
import { OutputsService } from '../verify/outputs.service.js';
import { StepTestsService } from '../verify/stepTests.service.js';
import { VerificationsService } from '../verify/verifications.service.js';
import { calibrationSection } from './calibrationSection.js';
import type { Label } from './labelsSheet.js';
import { NOTHING, RecordClock, section } from './section.js';
import { wiringSection } from './wiringSection.js';

/** Step tests of a circuit that are told of. */
const TESTS = 3;

/** A circuit with what a record of it depends on. */
interface Told {
  record: CircuitRecord;
  inForce: { point: KnownPoint; calibration: Calibration }[];
  node: InstallationNode;
  measuredBy: string;
  wiring: string;
}

/** What is known of circuits and of the site, to be handed over. */
@Injectable()
export class RecordService {
  constructor(
    private readonly sites: SiteService,
    private readonly tree: InstallationBook,
    private readonly installation: InstallationService,
    private readonly book: DeviceBook,
    private readonly fittings: FittingsBook,
    private readonly corrections: CorrectionBook,
    private readonly verifications: VerificationsService,
    private readonly tests: StepTestsService,
    private readonly outputs: OutputsService,
    private readonly calibrations: CalibrationService,
    private readonly drifts: DriftsService,
    private readonly instruments: InstrumentsService,
  ) {}

  async circuit(nodeId: number): Promise<CircuitRecord> {
    const node = this.installation.list().find((n) => n.id === nodeId);
    if (!node) throw notFound('place in the installation', nodeId);
    return (await this.tell(node)).record;
  }

  /** What stands over a record. */
  async head(who: string): Promise<Pick<SiteRecord, 'site' | 'made' | 'who'>> {
    const site = await this.sites.require();
    return { site: site.name, made: new RecordClock(site.timeZone).minute(Date.now()), who };
  }

  /** A label for every device at a place. @param address where phones find Loka; @param nodes left out: all places */
  async labels(address: string, nodes?: readonly number[]): Promise<Label[]> {
    const { name: site } = await this.sites.require();
    const base = address.replace(/\/+$/, '');
    return this.tree
      .all()
      .filter((n) => nodes === undefined || nodes.includes(n.id))
      .flatMap((node) =>
        // On what is computed there is nothing to stick a label.
        [...new Set(this.pointsAt(node.id).flatMap((p) => (p.deviceId === null ? [] : [p.deviceName])))].map(
          (device) => ({
            title: this.titleOf(node),
            device,
            site,
            url: `${base}/board?at=${node.id}`,
          }),
        ),
      );
  }

  /** Of every measured place, in the order of the installation. */
  async site(who: string): Promise<SiteRecord> {
    const site = await this.sites.require();
    const clock = new RecordClock(site.timeZone);
    const nodes = this.inOrder();
    const measured = nodes.filter((n) => this.pointsAt(n.id).length > 0);
    const told: Told[] = [];
    for (const node of measured) told.push(await this.tell(node));
    const unmeasured = nodes.filter((n) => n.kind === 'circuit' && this.pointsAt(n.id).length === 0);
    const instruments = await this.instruments.list();
    return {
      ...(await this.head(who)),
      sections: [
        section('The site', {
          facts: [
            [
              'Supply',
              `${site.nominalVoltage} V against neutral, ${site.frequency} Hz, ${site.supplySystem === 'three-phase' ? 'three phases' : 'split phase'}`,
            ],
            ['Time zone', site.timeZone],
            ['Places', `${told.length} measured, ${unmeasured.length} without a meter`],
          ],
          says:
            unmeasured.length === 0
              ? []
              : [`Without a meter: ${unmeasured.map((n) => this.titleOf(n)).join(', ')}.`],
        }),
        section('All circuits', {
          tables: [
            {
              head: ['Place', 'On', 'Measured by', 'Wiring', 'Corrected', 'Due again', 'Open'],
              rows: told.map(({ record, measuredBy, wiring, inForce }) => [
                record.title,
                this.boardOf(record.nodeId),
                measuredBy,
                wiring,
                inForce.length === 0
                  ? 'no'
                  : inForce
                      .map(
                        ({ point, calibration: c }) =>
                          `${this.nameOf(point)}${c.copiedFrom === null ? '' : ' (copied)'}`,
                      )
                      .join(', '),
                earliestDue(inForce, clock),
                record.open.length === 0 ? NOTHING : String(record.open.length),
              ]),
            },
          ],
        }),
        section('Reference instruments', {
          says: instruments.length === 0 ? ['None has been entered.'] : [],
          tables:
            instruments.length === 0
              ? []
              : [
                  {
                    head: ['Instrument', 'Serial number', 'Tolerance#', 'Certificate', 'Calibrated', 'Due'],
                    rows: instruments.map((i) => [
                      i.name,
                      i.serial || NOTHING,
                      `±${i.percent} %`,
                      i.certificate || NOTHING,
                      i.calibratedOn ?? NOTHING,
                      i.dueOn === null ? NOTHING : i.isDue ? `${i.dueOn}, past` : i.dueOn,
                    ]),
                  },
                ],
        }),
      ],
      circuits: told.map((t) => t.record),
    };
  }

  private async tell(node: InstallationNode): Promise<Told> {
    const { timeZone } = await this.sites.require();
    const clock = new RecordClock(timeZone);
    const now = Date.now();
    const points = this.pointsAt(node.id);
    const [fittings, records, tests, trials] = await Promise.all([
      this.fittings.of(node.id),
      this.verifications.records(node.id),
      this.tests.ended(node.id, TESTS),
      this.outputs.list(),
    ]);
    const inForce: Told['inForce'] = [];
    for (const point of points) {
      const calibration = (await this.calibrations.list(point.id)).find((c) => !c.superseded);
      if (calibration) inForce.push({ point, calibration });
    }
    const drifts = (await this.drifts.list()).filter((d) => points.some((p) => p.id === d.pointId));
    const trial = trials.find((t) => t.switchId === node.switchId);
    const wired = wiringSection(clock, records, tests, node.wiringFault);
    const sections: RecordSection[] = [
      await this.fitted(node, points, clock),
      wired,
      ...(trial
        ? [
            section('Its relay', {
              facts: [
                [
                  'Last trial',
                  `${trial.result?.says ?? trial.trouble} ${clock.minute(trial.startedAt)}, ${trial.who}.`,
                ],
              ],
            }),
          ]
        : []),
      ...(inForce.length === 0
        ? [section('Calibration', { says: ['None of its values has been calibrated.'] })]
        : []),
      ...inForce.map(({ point, calibration }) =>
        calibrationSection(
          clock,
          {
            name: this.nameOf(point),
            unit: quantityInfo(point.definition.quantity).unit,
            rated: point.definition.quantity === 'current' ? node.ratedCurrent : null,
            power: this.powerWith(calibration),
          },
          calibration,
          now,
        ),
      ),
      ...(fittings.length === 0
        ? []
        : [
            section('What was fitted when', {
              tables: [
                {
                  head: ['When', 'What', 'By'],
                  rows: fittings.map((f) => [clock.minute(f.at), f.says, f.who]),
                },
              ],
            }),
          ]),
    ];
    const measuredBy = [...new Set(points.map((p) => p.deviceName))].join(', ');
    return {
      node,
      inForce,
      measuredBy,
      wiring: node.wiringFault ?? (node.job.verified ? 'verified' : 'not verified'),
      record: {
        nodeId: node.id,
        title: this.titleOf(node),
        place: this.tree
          .above(node.id)
          .map((n) => this.titleOf(n))
          .join(' · '),
        open: [
          ...openOf(node, inForce, now),
          ...drifts.map(
            (d) =>
              `${this.nameOf(this.book.point(d.pointId) as KnownPoint)} drifts from “${d.neighbour}”: ${driftInWords(d)}.`,
          ),
        ],
        sections,
      },
    };
  }

  private async fitted(
    node: InstallationNode,
    points: readonly KnownPoint[],
    clock: RecordClock,
  ): Promise<RecordSection> {
    const devices = (await this.book.presentDevices()).filter((d) => points.some((p) => p.deviceId === d.id));
    const [maps, links] = await Promise.all([this.book.maps.find(), this.book.links.find()]);
    const protection =
      node.ratedCurrent === null
        ? 'not known'
        : `${node.protectiveDevice ? `${node.protectiveDevice} ` : ''}${node.ratedCurrent} A`;
    const transducers = points.flatMap((p) => {
      const sensing = this.corrections.sensingsOf(p.id).at(-1);
      return sensing ? [[this.nameOf(p), sensingInWords(sensing), clock.since(sensing.validFrom)]] : [];
    });
    return section('What is fitted', {
      facts: [
        ['Conductors', node.phases],
        ['Protective device', protection],
        ...(node.ratedPower ? [['Load by its plate', `${node.ratedPower} W`] as [string, string]] : []),
        ...devices.map((d): [string, string] => {
          const link = links.find((l) => l.id === d.linkId);
          const at = d.topic ? `topic ${d.topic}` : `unit ${d.unit}`;
          return [
            'Meter',
            `${d.name}: ${maps.find((m) => m.id === d.mapId)?.name ?? ''}; ${at} on ${link?.name ?? 'no link'}`,
          ];
        }),
      ],
      tables:
        transducers.length === 0 ? [] : [{ head: ['Value', 'Before the meter', 'Since'], rows: transducers }],
    });
  }

  private pointsAt(nodeId: number): KnownPoint[] {
    return this.book
      .allPoints()
      .filter(
        (p) =>
          p.nodeId === nodeId &&
          isReadable(p.definition) &&
          quantityInfo(p.definition.quantity).kind !== 'state',
      );
  }

  /** Places as one meets them on the way down. */
  private inOrder(): InstallationNode[] {
    const nodes = this.installation.list();
    const under = (parentId: number | null): InstallationNode[] =>
      nodes.filter((n) => n.parentId === parentId).flatMap((n) => [n, ...under(n.id)]);
    return under(null);
  }

  /** The board that a place is on, as it is marked. */
  private boardOf(nodeId: number): string {
    const board = this.tree.above(nodeId).find((n) => n.kind === 'board');
    return board ? board.way || board.name : NOTHING;
  }

  private powerWith({ powerPointId }: Calibration): string | null {
    const power = powerPointId === null ? undefined : this.book.pointEver(powerPointId);
    return power ? this.nameOf(power) : null;
  }

  private nameOf({ definition, phase }: KnownPoint): string {
    return phase === null || definition.name.includes(phase)
      ? definition.name
      : `${definition.name} ${phase}`;
  }

  private titleOf({ kind, way, name }: Pick<InstallationNode, 'kind' | 'way' | 'name'>): string {
    if (!way) return name;
    return kind === 'circuit' ? `Way ${way} · ${name}` : `${way} · ${name}`;
  }
}

/** What a person who takes over has still to do, or to know. */
function openOf(node: InstallationNode, inForce: Told['inForce'], now: number): string[] {
  const open: string[] = [];
  if (node.wiringFault) open.push(`Wired wrongly: ${node.wiringFault}`);
  else if (!node.job.verified) open.push('Its wiring is not verified.');
  if (!node.job.connected) open.push('A value does not answer now.');
  if (inForce.length === 0) open.push('Nothing is calibrated.');
  const names = (of: Told['inForce']) => of.map(({ point }) => point.definition.name).join(', ');
  const copied = inForce.filter((i) => i.calibration.copiedFrom !== null);
  if (copied.length > 0) open.push(`Copied and not measured: ${names(copied)}.`);
  const due = inForce.filter(
    ({ calibration: c }) => c.copiedFrom === null && c.dueAt !== null && c.dueAt < now,
  );
  if (due.length > 0) open.push(`To be calibrated again: ${names(due)}.`);
  return open;
}

function earliestDue(inForce: Told['inForce'], clock: RecordClock): string {
  const due = inForce.flatMap(({ calibration: c }) =>
    c.dueAt === null || c.copiedFrom !== null ? [] : [c.dueAt],
  );
  return due.length === 0 ? NOTHING : clock.day(Math.min(...due));
}
