// Starts every page: forms and links that replace the bench, the keys and the tray.
// What belongs to one stage starts itself, from the module beside its page.

import { bench, change, onBench, query, send, show } from './bench.js';
import { chosen, choose, chooseNth, startTray, swap } from './tray.js';
import { startOnPiece } from './onpiece.js';
import { keys, keysAct, letter, pressed, setKeysAct } from './keys.js';

document.addEventListener('submit', (e) => {
  const form = e.target;
  const button = /** @type {HTMLButtonElement} */ (e.submitter);
  if (form.hasAttribute('data-show')) { // asks and saves nothing
    e.preventDefault();
    const asked = query(form);
    if (button?.dataset.clear) asked.delete(button.dataset.clear);
    show(`${form.getAttribute('action')}?${asked}`);
    return;
  }
  if (form.getAttribute('action')?.endsWith('/bring')) { // what is typed stays where a file is refused
    e.preventDefault();
    const all = new FormData(form);
    if (bench().dataset.revision) all.set('revision', bench().dataset.revision);
    send(form.action, all);
    return;
  }
  if (form.id !== 'change' && !form.hasAttribute('data-live')) return;
  e.preventDefault();
  const fields = new FormData(form);
  if (button?.name) fields.set(button.name, button.value);
  change(fields, form);
});

document.addEventListener('click', (e) => {
  const drop = e.target.closest('.drop a')?.closest('details'); // a list that was chosen from closes
  if (drop) drop.open = false;
  const view = e.target.closest('a[data-view]');
  if (view && !e.ctrlKey && !e.metaKey && !e.shiftKey) {
    e.preventDefault();
    show(view.getAttribute('href'));
  }
  const take = e.target.closest('[data-take]'); // what was saved meanwhile
  if (take) {
    const field = take.closest('label').querySelector('input, select');
    field.value = take.dataset.take;
    field.focus();
    take.closest('.theirs').remove();
    e.preventDefault();
  }
  const fold = e.target.closest('[data-folds]'); // what a narrow window folds away
  if (fold) fold.setAttribute('aria-expanded', String(fold.getAttribute('aria-expanded') !== 'true'));
  if (e.target.closest('[data-keys]')) document.getElementById('keys').showModal();
});

// A list of the finder answers as soon as it is changed.
document.addEventListener('change', (e) => {
  if (e.target.matches('[data-auto]')) e.target.form.requestSubmit();
});

// A colour chosen by eye is written into the field beside it, and the other way round.
document.addEventListener('input', (e) => {
  const t = /** @type {HTMLInputElement} */ (e.target);
  if (t.dataset.picks) document.getElementById(t.dataset.picks).value = t.value;
});
function showPicked() {
  for (const t of /** @type {NodeListOf<HTMLInputElement>} */ (document.querySelectorAll('[data-picks]'))) {
    const now = document.getElementById(t.dataset.picks).value.trim();
    if (/^#[0-9a-f]{6}$/i.test(now)) t.value = now.toLowerCase();
  }
}
document.addEventListener('change', (e) => {
  const t = /** @type {HTMLInputElement} */ (e.target);
  const field = t.dataset.picks && document.getElementById(t.dataset.picks);
  if (field?.hasAttribute('data-auto')) field.form.requestSubmit();
  if (!field) showPicked();
});
onBench(showPicked);

// A link that acts as a button answers the space bar too.
document.addEventListener('keydown', (e) => {
  if (e.key === ' ' && e.target.matches('a[role=button]')) { e.preventDefault(); e.target.click(); }
});

function pressNext(prefix) {
  const all = [...document.querySelectorAll(`[id^="${prefix}-"][data-view]`)];
  const at = all.findIndex((a) => a.getAttribute('aria-pressed') === 'true');
  if (all.length) show(all[(at + 1) % all.length].getAttribute('href'));
}

let going = -Infinity; // when g was pressed
const act = (fields) => () => bench().dataset.plan && change(fields);
const onChosen = (f) => () => { const c = chosen(); if (c) f(c); };
Object.assign(keys, {
  '?': () => document.getElementById('keys').showModal(),
  '/': () => {
    const find = document.getElementById('find');
    if (find) find.focus();
    else location.href = bench().dataset.plan ? `/plans/${bench().dataset.plan}/gather#find` : '/shelf#find';
  },
  l: () => pressNext('lamp'),
  v: () => show(document.getElementById('values-only').getAttribute('href')),
  o: () => { const others = document.getElementById('others'); if (others) show(others.getAttribute('href')); },
  z: act({ do: 'undo' }),
  y: act({ do: 'redo' }),
  x: onChosen((c) => change({ do: 'aside', key: c.dataset.key })),
  k: onChosen((c) => change({ do: 'lead', key: c.dataset.key })),
  s: onChosen(swap),
  ',': onChosen((c) => change({ do: 'move', key: c.dataset.key, to: Math.max(0, [...c.parentElement.children].indexOf(c) - 1) })),
  '.': onChosen((c) => change({ do: 'move', key: c.dataset.key, to: [...c.parentElement.children].indexOf(c) + 1 })),
  Escape: () => choose(null),
});

document.addEventListener('keydown', (e) => {
  if (e.ctrlKey || e.metaKey || e.defaultPrevented) return;
  const k = letter(e);
  if (!k) return;
  if (e.target.closest('input:not([type=checkbox]), textarea, select, dialog')) return;
  const waited = performance.now() - going;
  going = -Infinity;
  if (waited < 2000) {
    const leaf = document.querySelector(`[data-letter="${CSS.escape(k)}"]`);
    if (leaf) { e.preventDefault(); leaf.click(); }
    return;
  }
  if (k === 'g') { e.preventDefault(); going = performance.now(); return; }
  if (/^[1-9]$/.test(k)) { e.preventDefault(); chooseNth(Number(k) - 1); return; }
  pressed(e, k);
});

const how = /** @type {HTMLSelectElement} */ (document.getElementById('keys-act'));
how.value = keysAct();
how.addEventListener('change', () => setKeysAct(how.value));

// In a narrow window the stages are a row that scrolls: the one that is shown is in sight.
let stood = null;
onBench(() => {
  const { stage } = bench().dataset;
  if (stage !== stood) document.querySelector('.rail .here')?.scrollIntoView({ block: 'nearest', inline: 'center' });
  stood = stage;
});

if (location.hash === '#find') document.getElementById('find')?.focus();
startTray();
startOnPiece();
