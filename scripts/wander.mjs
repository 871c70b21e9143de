import { setTimeout as wait } from 'node:timers/promises';
import { parseArgs } from 'node:util';
import { findProgram } from './lib/places.mjs';
import { onSampleSite } from './lib/sampleSite.mjs';
import { main } from './lib/say.mjs';

// npm run wander -- --seed 7 --minutes 10 --people 2 --phone
// Walks through the sample site at random: presses, chooses and types what is there, and says where Loka fails. Several
// people take from each other what the others are just looking at.
const { values: wanted } = parseArgs({
  options: {
    seed: { type: 'string', default: String(Date.now() % 100_000) },
    minutes: { type: 'string', default: '5' },
    people: { type: 'string', default: '1' },
    phone: { type: 'boolean', default: false },
  },
});
const SCREENS = ['board', 'field', 'bench', 'profiles', 'balance', 'dashboards', 'alerts', 'control'];
const TYPED = [
  '1.5 kW',
  '0',
  '-1',
  'abc',
  '1e9',
  '230',
  '',
  '3,5',
  'Ünï “x”',
  '<b>',
  '2026-02-30',
  '9'.repeat(20),
];
const PRESSED = ['button:enabled', 'a', '[role=tab]', '[role=option]', '[role=menuitem]', 'summary'];
const FILLED = ['input:enabled', 'select:enabled', 'textarea:enabled'];
/** Steps between two screens that are gone to by their address. */
const STRETCH = 40;
/** What no screen of Loka says in words. */
const NONSENSE = /\b(NaN|undefined|Infinity|1970)\b|\[object|Cannot read/;
/** In the page: whether the whole of it can be scrolled. The work scrolls in its place. */
const OVERFLOWS =
  '(({ scrollWidth, scrollHeight }) => scrollWidth > innerWidth + 1 || scrollHeight > innerHeight + 1)(document.documentElement)';

await main(() =>
  onSampleSite({}, async ({ url }) => {
    const { steps, failures } = await walk(url);
    console.log(`\n${steps} steps with seed ${wanted.seed}, ${failures} failures`);
    return failures === 0 ? 0 : 1;
  }),
);

async function walk(url) {
  const { chromium } = await import('@playwright/test');
  const browser = await chromium.launch({ executablePath: findProgram('chromium-headless-shell') });
  const known = new Set();
  const fail = (what, trail) => {
    if (known.has(what)) return;
    known.add(what);
    console.log(`✗ ${what}\n  after ${trail.slice(-6).join(' › ')}`);
  };
  try {
    const people = Array.from({ length: Number(wanted.people) }, (_, i) => Number(wanted.seed) + i);
    const steps = await Promise.all(people.map((seed) => person(browser, url, seed, fail)));
    return { steps: steps.reduce((sum, n) => sum + n, 0), failures: known.size };
  } finally {
    await browser.close();
  }
}

/** One person's walk. Returns how many steps it had. */
async function person(browser, url, seed, failed) {
  const trail = [];
  const fail = (what) => failed(what, trail);
  const page = await browser.newPage(
    wanted.phone
      ? { viewport: { width: 390, height: 844 }, hasTouch: true, isMobile: true }
      : { viewport: { width: 1280, height: 800 } },
  );
  page.setDefaultTimeout(1500);
  page.setDefaultNavigationTimeout(15_000);
  page.on('pageerror', (error) => fail(String(error.stack ?? error)));
  page.on('console', (m) => m.type() === 'error' && !/status of 4\d\d/.test(m.text()) && fail(m.text()));
  page.on(
    'response',
    (r) => r.status() >= 500 && fail(`${r.status()} to ${r.request().method()} ${r.url()}`),
  );
  // What was typed may be lost: it leads nowhere.
  page.on('dialog', (dialog) => void (dialog.type() === 'beforeunload' ? dialog.accept() : dialog.dismiss()));
  const rest = chance(seed);
  const end = Date.now() + Number(wanted.minutes) * 60_000;
  let steps = 0;
  for (; Date.now() < end; steps++) {
    if (steps % STRETCH === 0) {
      const screen = rest.one(SCREENS);
      trail.push(`/${screen}`);
      await page.goto(`${url}/${screen}`, { waitUntil: 'domcontentloaded' });
      await wait(900);
    }
    try {
      await step(page, rest, trail);
    } catch (error) {
      // What was there a moment ago may be gone, be another, or lie under something else.
      if (!/Timeout|detached|not attached|Execution context|not visible|not an? </.test(error.message))
        throw error;
    }
    const nonsense = NONSENSE.exec(await page.locator('body').innerText({ timeout: 15_000 }));
    if (nonsense) fail(`“${nonsense[0]}” is written on ${page.url()}`);
    if (await page.evaluate(OVERFLOWS)) fail(`${page.url()} is larger than its screen`);
  }
  return steps;
}

/** One thing that a person could do where the page stands. */
async function step(page, rest, trail) {
  const kinds = rest.next() < 0.7 ? PRESSED : FILLED;
  const there = await page.locator(kinds.map((kind) => `${kind}:visible`).join(', ')).all();
  if (there.length === 0) return page.keyboard.press('Escape');
  const chosen = rest.one(there);
  const { tag, type, name, href, options } = await chosen.evaluate((e) => ({
    tag: e.tagName,
    type: e.type,
    name: (e.innerText || e.getAttribute('aria-label') || e.name || '').slice(0, 40).replaceAll('\n', ' '),
    href: e.href || '',
    options: e.tagName === 'SELECT' ? [...e.options].map((o) => o.value) : [],
  }));
  if (href && new URL(href).origin !== new URL(page.url()).origin) return;
  trail.push(`${tag.toLowerCase()} ${name}`);
  if (tag === 'SELECT') await chosen.selectOption(rest.one(options));
  else if (tag === 'TEXTAREA' || (tag === 'INPUT' && type !== 'checkbox' && type !== 'radio')) {
    if (type !== 'file') await chosen.fill(rest.one(TYPED));
    if (rest.next() < 0.3) await page.keyboard.press('Enter');
  } else await chosen.click();
  if (rest.next() < 0.05) await page.keyboard.press('Escape');
  if (rest.next() < 0.03) {
    trail.push('back');
    await page.goBack({ waitUntil: 'domcontentloaded' });
    await wait(700);
  }
}

/** Chance that begins with a seed: numbers from 0 to 1 by a linear congruence (Numerical Recipes, 7.1). */
function chance(seed) {
  let state = seed >>> 0;
  const next = () => (state = (Math.imul(state, 1664525) + 1013904223) >>> 0) / 2 ** 32;
  return { next, one: (list) => list[Math.floor(next() * list.length)] };
}
