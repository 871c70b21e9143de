import { join } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import { findProgram, ROOT } from './lib/places.mjs';
import { onSampleSite } from './lib/sampleSite.mjs';
import { main, say, Stop } from './lib/say.mjs';

// npm run screenshots: takes the pictures in docs/screenshots again, from the sample site alone.
const OUT = join(ROOT, 'docs/screenshots');
const DESKTOP = { width: 1280, height: 800 };
const PHONE = { width: 390, height: 844 };

await main(() => onSampleSite({ zone: busyZone() }, ({ url, building }) => take(url, building)));

/**
 * A zone in which it is about twenty to nine now: the oven bakes, the shop has opened, and the sun is up. The bakehouse lives
 * by its clock, so that the pictures show a busy hour whenever they are taken.
 */
function busyZone() {
  const minutes = (timeZone) => {
    const [hour, minute] = new Intl.DateTimeFormat('en-GB', { timeZone, hour: '2-digit', minute: '2-digit' })
      .format(new Date())
      .split(':')
      .map(Number);
    return hour * 60 + minute;
  };
  const apart = (timeZone) => Math.abs(minutes(timeZone) - (8 * 60 + 40));
  return Intl.supportedValuesOf('timeZone')
    .filter((zone) => /^(Africa|America|Asia|Europe|Pacific)\/[A-Z][a-z]+$/.test(zone))
    .reduce((best, zone) => (apart(zone) < apart(best) ? zone : best));
}

async function take(url, building) {
  const { chromium } = await import('@playwright/test');
  const browser = await chromium.launch({
    executablePath: findProgram('chromium-headless-shell'),
    args: [
      '--no-first-run',
      '--disable-background-networking',
      '--disable-component-update',
      '--disable-sync',
      '--disable-gpu',
    ],
  });
  try {
    await takeAll(await browser.newPage({ viewport: DESKTOP }), url, building);
  } finally {
    await browser.close();
  }
}

async function takeAll(page, url, { control, ports }) {
  const put = (path, body) => fetch(control + path, { method: 'PUT', body: JSON.stringify(body) });
  const ask = async (path, method, body) =>
    (
      await fetch(
        `${url}/api${path}`,
        method
          ? { method, headers: { 'content-type': 'application/json' }, body: JSON.stringify(body ?? {}) }
          : {},
      )
    ).json();
  const shot = async (name) => {
    await page.waitForFunction(() => !document.body.innerText.includes('Loading …'));
    // Fonts are in, and what was asked for has been drawn: two readings' time, and two frames.
    await page.evaluate(() =>
      document.fonts.ready.then(
        () =>
          new Promise((done) =>
            setTimeout(() => requestAnimationFrame(() => requestAnimationFrame(done)), 1500),
          ),
      ),
    );
    await page.screenshot({ path: join(OUT, `${name}.png`) });
    say(name);
  };
  const open = async (path, ready) => {
    await page.goto(url + path);
    await page.getByText(ready).first().waitFor();
    await page.locator('.measured .unit:visible').first().waitFor();
  };
  page.setDefaultTimeout(20_000);
  page.context().setDefaultNavigationTimeout(20_000);
  const nodes = await ask('/installation');
  const node = (name) => nodes.find((n) => n.name === name).id;
  const points = await ask('/points');
  const point = (device, key) => points.find((p) => p.deviceName === device && p.key === key).id;

  // The month that was loaded is added up first; the pictures are of a quiet Loka.
  say('waiting until Loka is up');
  for (const until = Date.now() + 180_000; (await ask('/health')).state !== 'up';) {
    if (Date.now() > until) throw new Stop('Loka is not up after three minutes.');
    await wait(1000);
  }
  await put('/loads/hot-water', { mode: 'off' });
  await put('/loads/espresso', { mode: 'on' });
  await open(`/bench?at=${node('Hot-water cylinder')}&do=calibrate`, 'Take zero');
  await page.getByRole('button', { name: 'Take zero' }).click();
  await page.getByRole('row', { name: /^Zero/ }).waitFor();
  await put('/loads/hot-water', { mode: 'on' });
  await page.getByText('moving').waitFor();
  await page.getByText('steady').waitFor();
  const { L1 } = (await (await fetch(`${control}/state`)).json()).loads['hot-water'];
  await page.getByLabel('Tolerance, ±%').fill('0.3');
  for (const [button, row] of [
    ['Take point', /^Load 2/],
    ['Take check point', /^Load 3/],
  ]) {
    await page.getByLabel(/The reference reads/).fill(L1.amperes.toFixed(2));
    await page.getByRole('button', { name: button }).click();
    await page.getByRole('row', { name: row }).waitFor();
  }
  await shot('bench');
  await page.getByLabel('Applies from').selectOption('beginning');
  await page.getByRole('button', { name: 'Apply correction' }).click();
  await page.getByText('Correction applied').waitFor();
  await open(`/bench?at=${node('Hot-water cylinder')}&do=record`, 'Record as PDF');
  await page.getByRole('region', { name: 'Calibration of Current 2 L1' }).waitFor();
  await shot('record');
  await page.setViewportSize(PHONE);
  await open(`/bench?at=${node('Espresso machine')}&do=trim`, 'Tolerance');
  await page.getByLabel('Reference').click();
  await page.getByRole('option', { name: /Current.*Espresso meter|Espresso meter, Current/ }).click();
  await page.getByText('Adjust a little').waitFor();
  await shot('phone-trim');
  await page.setViewportSize(DESKTOP);

  await ask('/alert-rules', 'POST', {
    name: 'Cylinder heats',
    pointId: point('Clamp node', 'power-2'),
    direction: 'above',
    limit: 2000,
    deadband: 100,
    onDelayMs: 1000,
    offDelayMs: 1000,
    enabled: true,
  });
  await page.getByRole('link', { name: /^\d alerts?$/ }).waitFor();
  // The mixer is started while its meter is polled as fast as it answers.
  await put('/loads/mixer', { mode: 'off' });
  await open(`/board?at=${node('Spiral mixer')}&period=yesterday`, 'Fast look');
  await page.getByRole('button', { name: 'Look', exact: true }).click();
  await page.getByText('Nothing has risen yet').waitFor();
  await put('/loads/mixer', { mode: 'on' });
  await page.getByText(/settled at/).waitFor();
  await page.getByRole('button', { name: 'Look', exact: true }).waitFor({ timeout: 20_000 });
  await page.setViewportSize({ width: 1280, height: 960 });
  await shot('circuit');
  await page.setViewportSize(DESKTOP);
  await put('/loads/mixer', { mode: 'auto' });
  await open(`/board?at=${node('Deck oven')}&tab=energy&period=yesterday&beside=weekday`, 'Running totals');
  await page.locator('canvas').first().waitFor();
  await shot('energy');
  await open(`/profiles?at=${node('Walk-in cold room')}&period=30-days`, 'Every day');
  await page.getByText(/Goes to .* every/).waitFor();
  await shot('profile');
  await open(`/report?at=${node('Supply')}&period=30-days`, 'Where it went');
  await page.getByRole('img', { name: /What was taken on each/ }).waitFor();
  await shot('report');
  await open('/balance?period=yesterday&beside=weekday', 'Most to least');
  await page.locator('canvas').first().waitFor();
  await shot('balance');
  await open('/board?period=yesterday', 'Bakery board');
  await page.getByRole('img', { name: /Site demand/ }).waitFor();
  await shot('board');
  await open('/field?device=3', 'All points belong to');
  await shot('field');
  await open('/field/map/2?device=3', 'while you edit');
  await page
    .getByRole('cell', { name: /0\.\d{3}A|\d\.\d{3}A/ })
    .first()
    .waitFor();
  await shot('map');
  await field({ page, shot, open, ask, ports, node });
  const dashboards = await ask('/dashboards');
  const dashboard = (name) => dashboards.find((d) => d.name === name).id;
  await open(`/dashboards/${dashboard('Day shift')}`, 'Energy of the week');
  await page.locator('canvas').nth(1).waitFor();
  await shot('dashboard');
  await open(`/wall?show=${dashboard('Bakery wall')},site&every=600`, 'Bakery today');
  await page.locator('canvas').first().waitFor();
  await shot('wall');

  const switches = await ask('/switches');
  await ask(`/switches/${switches.find((s) => s.name === 'Bakery lighting').id}/operate`, 'POST', {
    closed: false,
  });
  const [rule] = await ask('/cut-off-rules');
  await ask(`/cut-off-rules/${rule.id}`, 'PUT', {
    switchId: rule.switchId,
    pointId: rule.pointId,
    limit: 2500,
    delayMs: 1000,
    ignoreAfterOnMs: 0,
    enabled: true,
  });
  await open('/control', 'Overload cut-off');
  await page.getByText(/locked out until restored/).waitFor();
  await page.getByText('confirmed by the contact').nth(1).waitFor();
  await shot('control');
  // The oven's clamps are exchanged, and the step test is under way.
  await put('/wiring/oven-meter', { kind: 'swapped', lines: ['L2', 'L3'] });
  await put('/loads/deck-oven', { mode: 'off' });
  await open(`/bench?at=${node('Deck oven')}`, 'Checks');
  // At rest before it is asked for, as at a board.
  await page.getByRole('button', { name: /Deck oven\s*0\.0\s*W/ }).waitFor();
  await page.getByRole('button', { name: 'Start the step test' }).click();
  await page.getByText(/^Switch .+ on now\.$/).waitFor();
  await put('/loads/deck-oven', { mode: 'on' });
  await page.getByText(/^Switch .+ off now\.$/).waitFor();
  await shot('verify');
  await page.setViewportSize(PHONE);
  await shot('phone-verify');
  await page.setViewportSize(DESKTOP);
  await put('/loads/deck-oven', { mode: 'auto' });
  await put('/wiring/oven-meter', { kind: 'none' });
  await page.getByRole('button', { name: 'End the test' }).click();
}

/** Connecting devices: searching, what a register means, topics, virtual meters, which one moves, fitting. */
async function field({ page, shot, open, ask, ports, node }) {
  const maps = await ask('/register-maps');
  const devices = await ask('/devices');
  const device = (name) => devices.find((d) => d.name === name);
  const links = await ask('/links');

  await open('/field/search', 'Find devices');
  await page.getByLabel('Ports').fill(`${ports['van-meter']}, ${ports.gateway}, ${ports['main-meter']}`);
  await page.getByRole('button', { name: 'Search' }).click();
  await page.getByText('3 of 3 addresses and ports tried').waitFor({ timeout: 60_000 });
  const found = page.getByRole('row', { name: /Charger meter/ });
  await found.getByLabel(/^Name of unit/).fill('Charger meter');
  await found.getByRole('button', { name: 'Add' }).click();
  await found.getByRole('link', { name: 'Charger meter' }).waitFor();

  const mixer = device('Mixer meter');
  await open(`/field/map/${mixer.mapId}?device=${mixer.id}`, 'while you edit');
  await page.getByRole('button', { name: 'Find out what Voltage L1 is' }).click();
  await page.getByRole('button', { name: 'Look' }).click();
  await page.getByRole('button', { name: 'Take this' }).first().waitFor({ timeout: 30_000 });
  await shot('finder');

  await open(`/field/topics/${links.find((l) => l.kind === 'mqtt').id}`, 'What is published');
  await page
    .getByRole('treeitem', { name: /plug-cabinet/ })
    .getByRole('button', { name: /^report/ })
    .click();
  await page.getByText('about every 2 s').waitFor({ timeout: 30_000 });
  await shot('topics');

  const module = maps.find((m) => m.name.startsWith('Measuring module')).deviceIds[0];
  await open(`/field/moves?devices=${module}`, 'Which one moves?');
  await page.getByLabel(/by Loka: Bakery lighting/).check();
  for (const word of ['off', 'on', 'off', 'on']) {
    await page.getByRole('button', { name: `Switch it ${word}` }).click();
    await page.waitForTimeout(4500); // the load stays so for some readings: that is the experiment
  }
  await page.getByRole('row', { name: /Value 4/ }).waitFor();

  await open(`/field/fit/${node('Van charger')}`, 'Fit a meter');
  await page.getByLabel('Device', { exact: true }).selectOption({ label: 'Charger meter' });
  await page.getByRole('button', { name: 'Assign to Van charger' }).click();
  await page.getByText('near 230 V').first().waitFor();
  await page.getByRole('button', { name: 'Close' }).click();
  const second = page.getByRole('heading', { name: '2. What goes on it' });
  await second.evaluate((h) => h.scrollIntoView());
  await shot('fit');
}
