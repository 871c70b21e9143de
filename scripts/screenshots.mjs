import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { startLoka } from './lib/loka.mjs';
import { findProgram, needBuild, needPackages, needPrograms, ROOT } from './lib/machine.mjs';
import { startMariadb } from './lib/mariadb.mjs';
import { stopAll, stopOnSignals } from './lib/processes.mjs';
import { main, say } from './lib/say.mjs';

// npm run screenshots: takes the pictures in docs/screenshots anew, from the sample site alone.
const OUT = join(ROOT, 'docs/screenshots');
const DESKTOP = { width: 1280, height: 800 };
const PHONE = { width: 390, height: 844 };

await main(async () => {
  stopOnSignals();
  const folder = mkdtempSync(join(tmpdir(), 'loka-shots-'));
  try {
    await needPrograms('mariadbd', 'chromium');
    await needPackages();
    await needBuild();
    say('starting the sample site');
    const database = await startMariadb(folder, { fast: true });
    const { url, building } = await startLoka(folder, 'sample', database, {});
    await take(url, building.control);
  } finally {
    await stopAll();
    rmSync(folder, { recursive: true, force: true });
  }
});

async function take(url, control) {
  const { chromium } = await import('@playwright/test');
  const browser = await chromium.launch({
    executablePath: findProgram('chromium'),
    args: [
      '--no-first-run',
      '--disable-background-networking',
      '--disable-component-update',
      '--disable-sync',
      '--disable-gpu',
    ],
  });
  const page = await browser.newPage({ viewport: DESKTOP });
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
    await page.getByText('Loading …').waitFor({ state: 'detached' });
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

  await put('/loads/hot-water', { mode: 'off' });
  await put('/loads/espresso', { mode: 'on' });
  await open(`/bench?at=${node('Hot-water cylinder')}`, 'Take zero');
  await page.getByRole('button', { name: 'Take zero' }).click();
  await page.getByRole('row', { name: /^Zero/ }).waitFor();
  await put('/loads/hot-water', { mode: 'on' });
  await page.getByText('moving').waitFor();
  await page.getByText('steady').waitFor();
  const { L1 } = (await (await fetch(`${control}/state`)).json()).loads['hot-water'];
  await page.getByRole('button', { name: 'Known load' }).click();
  await page.getByLabel('Power, W').fill(L1.watts.toFixed(0));
  await page.getByRole('button', { name: 'Take point' }).click();
  await page.getByRole('row', { name: /W load/ }).waitFor();
  await shot('bench');
  await page.setViewportSize(PHONE);
  await shot('phone-bench');
  await page.setViewportSize(DESKTOP);
  await page.getByLabel('Applies from').selectOption('beginning');
  await page.getByRole('button', { name: 'Apply correction' }).click();
  await page.getByText('The correction holds').waitFor();

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
  await page.getByRole('link', { name: '1 alert' }).waitFor();
  await open(`/board?at=${node('Hot-water cylinder')}&period=yesterday`, 'Power now');
  await shot('circuit');
  await page.setViewportSize(PHONE);
  await shot('phone-circuit');
  await open('/board', 'Bakery board');
  await shot('phone-spine');
  await page.setViewportSize(DESKTOP);
  await open('/board?period=yesterday', 'Bakery board');
  await page.getByRole('img', { name: /Site demand/ }).waitFor();
  await shot('board');
  await page.getByRole('button', { name: 'Local person' }).click();
  await page.getByRole('menuitem', { name: 'Dark sheet' }).click();
  await shot('board-dark');
  await page.getByRole('button', { name: 'Local person' }).click();
  await page.getByRole('menuitem', { name: 'Light sheet' }).click();
  await open('/field?device=3', 'All points belong to');
  await shot('field');
  await open('/field/map/2?device=3', 'while you edit');
  await page
    .getByRole('cell', { name: /0\.\d{3}A|\d\.\d{3}A/ })
    .first()
    .waitFor();
  await shot('map');
  await open('/alerts', 'Watched limits');
  await page.getByRole('button', { name: 'Acknowledge' }).waitFor();
  await shot('alerts');

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
  await browser.close();
}
