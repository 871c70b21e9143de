import { AlertRuleInput } from '@loka/contract/alerts';
import { CutOffRuleInput, SwitchInput } from '@loka/contract/control';
import { DeviceInput } from '@loka/contract/devices';
import { LinkInput } from '@loka/contract/links';
import { NodeInput } from '@loka/contract/installation';
import { DashboardInput } from '@loka/contract/dashboards';
import { newElement, type SourceKind } from '@loka/core/dashboards';
import { PlanInput } from '@loka/contract/plans';
import { SiteInput } from '@loka/contract/site';
import { VirtualMeterInput } from '@loka/contract/virtual';
import type { Phase } from '@loka/core/quantities';
import type { INestApplicationContext } from '@nestjs/common';
import { parse } from 'csv-parse';
import { createReadStream } from 'node:fs';
import { AlertsService } from '../alerts/alerts.service.js';
import { CutOffsService } from '../control/cutOffs.service.js';
import { SwitchesService } from '../control/switches.service.js';
import { LOCAL_PERSON } from '../audit/person.js';
import { DashboardsService } from '../dashboards/dashboards.service.js';
import { DeviceBook } from '../book/deviceBook.js';
import { PointsService } from '../devices/points.service.js';
import { DevicesService } from '../devices/devices.service.js';
import { LinksService } from '../devices/links.service.js';
import { InstallationService } from '../installation/installation.service.js';
import { PlansService } from '../plans/plans.service.js';
import { RegistersService } from '../registers/registers.service.js';
import { FittingsBook } from '../book/fittingsBook.js';
import { IntervalBook } from '../series/intervalBook.js';
import { HistoryLoader } from '../series/historyLoader.js';
import { RebuildsService } from '../series/rebuilds.service.js';
import { RollupWorker } from '../series/rollupWorker.js';
import { SiteService } from '../site/site.service.js';
import { VirtualMetersService } from '../virtual/virtualMeters.service.js';
import { RecordedPast } from './recordedPast.js';
import { checked, SiteFileError, type PastFile, type SiteFile } from './siteFile.js';

/** Makes a whole site from a file, through the same services that the screens use. */
export class SiteImport {
  private readonly ids = new Map<string, number>();
  private readonly points = new Map<string, number>();
  private readonly virtual: number[] = [];
  private past: PastFile | undefined;

  constructor(private readonly app: INestApplicationContext) {}

  /** @throws SiteFileError, Problem */
  async run(file: SiteFile): Promise<void> {
    const { outdoor, ...site } = file.site;
    this.past = file.past;
    await this.app.get(SiteService).save(checked(SiteInput, site, 'site'));
    await this.makeInstallation(file);
    await this.makeDevices(file);
    if (outdoor !== undefined)
      await this.app
        .get(SiteService)
        .save(checked(SiteInput, { ...site, outdoorPointId: this.point(outdoor) }, 'site'));
    await this.makeVirtualMeters(file);
    await this.makeControl(file);
    await this.makePlans(file);
    await this.makeDashboards(file);
  }

  private async makeInstallation({ nodes }: SiteFile): Promise<void> {
    const installation = this.app.get(InstallationService);
    for (const { ref, parent, ...node } of nodes) {
      const input = checked(
        NodeInput,
        { ...node, parentId: parent === null ? null : this.id(`node ${parent}`) },
        `node ${ref}`,
      );
      this.ids.set(`node ${ref}`, (await installation.create(input)).id);
    }
  }

  private async makeDevices({ links, devices, points }: SiteFile): Promise<void> {
    const service = this.app.get(DevicesService);
    const linksOf = this.app.get(LinksService);
    for (const map of await this.app.get(RegistersService).list()) this.ids.set(`map ${map.name}`, map.id);
    for (const { ref, ...link } of links)
      this.ids.set(`link ${ref}`, (await linksOf.create(checked(LinkInput, link, `link ${ref}`))).id);
    for (const { ref, link, map, ...device } of devices) {
      const input = checked(
        DeviceInput,
        { ...device, linkId: this.id(`link ${link}`), mapId: this.id(`map ${map}`) },
        `device ${ref}`,
      );
      this.ids.set(`device ${ref}`, (await service.createDevice(input)).id);
    }
    for (const { ref } of devices)
      for (const point of this.app.get(DeviceBook).allPoints())
        if (point.deviceId === this.id(`device ${ref}`)) this.points.set(`${ref}/${point.key}`, point.id);
    // Together: what comes to a place is one line of its history a device.
    await this.app.get(PointsService).assignEach(
      points.map(({ point, node, phase }) => ({
        id: this.point(point),
        nodeId: this.id(`node ${node}`),
        phase: (phase ?? null) as Phase | null,
      })),
    );
  }

  private async makeVirtualMeters({ virtualMeters = [] }: SiteFile): Promise<void> {
    for (const { node, inputs, ...meter } of virtualMeters) {
      const input = checked(
        VirtualMeterInput,
        {
          ...meter,
          nodeId: node === null ? null : this.id(`node ${node}`),
          inputs: inputs.map(({ name, point }) => ({ name, pointId: this.point(point) })),
        },
        `virtual meter ${meter.name}`,
      );
      const { pointId } = await this.app.get(VirtualMetersService).create(input);
      this.points.set(`virtual/${meter.name}`, pointId);
      this.virtual.push(pointId);
    }
  }

  private async makeControl({ switches, cutOffRules, alertRules }: SiteFile): Promise<void> {
    for (const { ref, node, command, state, ...rest } of switches) {
      const input = checked(
        SwitchInput,
        {
          ...rest,
          nodeId: this.id(`node ${node}`),
          commandPointId: this.point(command),
          statePointId: this.point(state),
        },
        `switch ${ref}`,
      );
      this.ids.set(`switch ${ref}`, (await this.app.get(SwitchesService).save(null, input)).id);
    }
    for (const { switch: ref, point, ...rest } of cutOffRules)
      await this.app
        .get(CutOffsService)
        .save(
          null,
          checked(
            CutOffRuleInput,
            { ...rest, switchId: this.id(`switch ${ref}`), pointId: this.point(point) },
            `cut-off rule of ${ref}`,
          ),
        );
    for (const { point, ...rest } of alertRules)
      await this.app
        .get(AlertsService)
        .saveRule(
          null,
          checked(AlertRuleInput, { ...rest, pointId: this.point(point) }, `alert rule ${rest.name}`),
        );
  }

  private async makePlans({ plans = [] }: SiteFile): Promise<void> {
    for (const { ref, name, marks, ...content } of plans) {
      const placed = marks.map((mark) => ({
        ...mark,
        ref: this.id(mark.kind === 'device' ? `device ${mark.ref}` : `node ${mark.ref}`),
      }));
      const input = checked(PlanInput, { name, content: { ...content, marks: placed } }, `plan ${ref}`);
      this.ids.set(`plan ${ref}`, (await this.app.get(PlansService).create(input, LOCAL_PERSON)).id);
    }
  }

  private async makeDashboards({ dashboards = [] }: SiteFile): Promise<void> {
    for (const { name, elements, phone, away } of dashboards) {
      const content = {
        elements: elements.map(({ id, kind, shows, at: [x, y, w, h], ...more }) =>
          newElement(
            id,
            kind,
            shows.map(({ of, ref }) => ({ of, id: this.shown(of, ref) })),
            { x, y, w, h },
            more,
          ),
        ),
        phone: {
          shown: phone.map((text) => ({ id: text.replace(/½$/, ''), half: text.endsWith('½') })),
          away,
        },
      };
      await this.app
        .get(DashboardsService)
        .create(checked(DashboardInput, { name, content }, `dashboard ${name}`), LOCAL_PERSON);
    }
  }

  private shown(of: SourceKind, ref: string): number {
    if (of === 'point') return this.point(ref);
    return this.id(of === 'switch' || of === 'plan' ? `${of} ${ref}` : `node ${ref}`);
  }

  /**
   * Brings in recorded history: a CSV file with a column "time" (UTC ms, ascending) and columns named
   * "device ref/key" with values in base units. Columns of points that the site does not have are left out.
   * @returns the number of readings
   */
  async loadHistory(path: string, said: (text: string) => void): Promise<number> {
    const { times, columns } = await readColumns(path);
    if (times.length < 2) throw new SiteFileError(`${path} has no history`);
    const intervalMs = (times[1] as number) - (times[0] as number);
    const known = [...columns].filter(([name]) => this.points.has(name));
    const book = this.app.get(DeviceBook);
    await book.intervals.save(
      known.map(([name]) => ({ pointId: this.point(name), validFrom: 0, intervalMs })),
    );
    await this.app.get(IntervalBook).reload();
    let done = 0;
    const next = known[Symbol.iterator]();
    // Two at a time: the database and this process each keep one core busy.
    const worker = async () => {
      for (const [name, values] of next) {
        const pointId = this.point(name);
        await this.app.get(HistoryLoader).load(pointId, times, values);
        if (++done % 10 === 0) said(`${done} of ${known.length} points`);
      }
    };
    await Promise.all([worker(), worker(), worker()]);
    await this.app.get(FittingsBook).fittedSince(times[0] as number);
    if (this.past) {
      const recorded = known.map(([name, values]) => [name, { pointId: this.point(name), values }] as const);
      await new RecordedPast(this.app, times, new Map(recorded), (ref) => this.id(`switch ${ref}`)).live(
        this.past,
        said,
      );
    }
    const rebuilds = this.app.get(RebuildsService);
    const plan = await rebuilds.plan(book.pointRows.manager, this.virtual, times[0] as number, { own: true });
    await rebuilds.run('Virtual meters from recorded readings', plan);
    await this.app.get(RollupWorker).work();
    return times.length * known.length;
  }

  private id(ref: string): number {
    const id = this.ids.get(ref);
    if (id === undefined) throw new SiteFileError(`there is no ${ref} in the file`);
    return id;
  }

  private point(ref: string): number {
    const id = this.points.get(ref);
    if (id === undefined) throw new SiteFileError(`there is no point ${ref} in the file`);
    return id;
  }
}

async function readColumns(path: string): Promise<{ times: number[]; columns: Map<string, number[]> }> {
  const times: number[] = [];
  let names: string[] = [];
  const columns = new Map<string, number[]>();
  const records = createReadStream(path).pipe(parse());
  for await (const record of records as AsyncIterable<string[]>) {
    if (names.length === 0) {
      names = record;
      for (const name of names.slice(1)) columns.set(name, []);
      continue;
    }
    times.push(Number(record[0]));
    for (let i = 1; i < names.length; i++) columns.get(names[i] as string)?.push(Number(record[i]));
  }
  return { times, columns };
}
