/**
 * The building's own page: to wire its meters wrongly and switch its loads by hand. It belongs to the stand-in for the
 * building and looks like it: plain, and nothing of Loka's.
 */
export const PAGE = `<!doctype html>
<html lang="en">
<meta charset="utf-8">
<meta name="viewport" content="width=device-width">
<title>The simulated building</title>
<style>
  body { font: 15px/1.5 serif; max-width: 56rem; margin: 2rem auto; padding: 0 1rem; }
  table { border-collapse: collapse; width: 100%; }
  td, th { border: 1px solid; padding: 4px 8px; text-align: left; }
  .num { text-align: right; }
  select, button { font: inherit; }
</style>
<h1>The simulated building</h1>
<p>This is not Loka. It is the building that the sample site measures: here you can wire its meters wrongly and work its
loads by hand, and then see in Loka what comes of it.</p>
<p id="fault" role="alert"></p>
<h2>How the meters are wired</h2>
<table><thead><tr><th>Meter</th><th>Wired</th></tr></thead><tbody id="wiring"></tbody></table>
<h2>Loads</h2>
<table><thead><tr><th>Load</th><th>Draws</th><th>Its own switch</th></tr></thead><tbody id="loads"></tbody></table>
<script>
const WAYS = {
  'as it should be': { kind: 'none' },
  'clamp reversed': { kind: 'reversed' },
  'clamp of L2 reversed': { kind: 'reversed', lines: ['L2'] },
  'clamps L2 and L3 swapped': { kind: 'swapped', lines: ['L2', 'L3'] },
  'voltage of L1': { kind: 'wrong-phase', line: 'L1' },
  'voltage of L2': { kind: 'wrong-phase', line: 'L2' },
  'voltage of L3': { kind: 'wrong-phase', line: 'L3' },
  'both conductors in the clamp': { kind: 'both-conductors' },
  'bridged, a quarter goes through': { kind: 'bypassed', share: 0.23 },
  'on the conductor of the espresso machine': { kind: 'other-circuit', load: 'espresso' },
  'two turns through the clamp': { kind: 'wrong-ratio', factor: 2 },
  'ratio a tenth': { kind: 'wrong-ratio', factor: 0.1 },
  'stuck': { kind: 'stuck' },
  'clipped at 5 A': { kind: 'clipped', amperes: 5 },
};
const same = (a, b) => JSON.stringify(a) === JSON.stringify(b);
async function put(path, body) {
  const answer = await fetch(path, { method: 'PUT', body: JSON.stringify(body) });
  document.getElementById('fault').textContent = answer.ok ? '' : (await answer.json()).error;
  await show();
}
function choice(label, options, chosen, onChange) {
  const select = document.createElement('select');
  select.setAttribute('aria-label', label);
  for (const name of options) select.add(new Option(name, name, false, name === chosen));
  select.onchange = () => onChange(select.value);
  return select;
}
function row(body, ...cells) {
  const tr = body.insertRow();
  for (const cell of cells) {
    const td = tr.insertCell();
    td.append(cell);
    if (typeof cell === 'string' && /\\d W$/.test(cell)) td.className = 'num';
  }
}
async function show() {
  if (document.activeElement && document.activeElement.tagName === 'SELECT' && document.activeElement.matches(':open')) return;
  const state = await (await fetch('/state')).json();
  const wiring = document.createElement('tbody');
  for (const [name, fault] of Object.entries(state.wiring)) {
    const known = Object.keys(WAYS).find((k) => same(WAYS[k], fault));
    const names = known ? Object.keys(WAYS) : [JSON.stringify(fault), ...Object.keys(WAYS)];
    row(wiring, name, choice('Wiring of ' + name, names, known ?? names[0], (way) => WAYS[way] && put('/wiring/' + name, WAYS[way])));
  }
  wiring.id = 'wiring';
  document.getElementById('wiring').replaceWith(wiring);
  const loads = document.createElement('tbody');
  for (const [name, flow] of Object.entries(state.loads)) {
    const watts = Object.values(flow).reduce((sum, line) => sum + line.watts, 0);
    row(loads, name, Math.round(watts) + ' W', choice('Switch of ' + name, ['auto', 'on', 'off'], state.modes[name] ?? 'auto', (mode) => put('/loads/' + name, { mode })));
  }
  loads.id = 'loads';
  document.getElementById('loads').replaceWith(loads);
}
show();
setInterval(() => { if (!document.activeElement || document.activeElement.tagName !== 'SELECT') show(); }, 2000);
</script>
</html>
`;
