// The deck: riffling through a drawer of any size. Only the cards that are seen
// are in the page; the rest of the drawer waits as a list.

import { change, hint, onBench, say } from './bench.js';

const SIDE = 16; // cards seen at most on each side of the one in front
const STEP = 44; // pixels between cards that are not
const FRONT = 260; // pixels, as in the style sheet
const BACK = 150;
const rack = () => document.getElementById('riffle');

let drawer = null; // { address, cards, shown }
let at = 0;
let wanted = ''; // address of the drawer being fetched

// What a drawer holds depends on its address, on the shelf, and on how colours are
// seen just now.
const key = (r) => `${r.dataset.deck} ${r.dataset.shelf} ${r.dataset.seen}`;
const flagged = (card) => rack().dataset.flags.includes(` ${card.id} `);
const inTray = (card) => document.querySelector(`.tray-card[data-material="${card.id}"]`);

async function fill() {
  const r = rack();
  if (!r) { drawer = null; return; }
  if (drawer?.key === key(r)) { draw(); return; }
  const now = key(r);
  if (wanted === now) return;
  wanted = now;
  const same = drawer?.address === r.dataset.deck;
  let cards;
  try {
    const answer = await fetch(r.dataset.deck);
    if (!answer.ok) throw new Error(answer.statusText);
    cards = await answer.json();
  } catch {
    if (wanted === now) wanted = ''; // the next look asks again
    hint('The cards could not be loaded. Start Lamp Fern again if it has stopped, then choose the family again.');
    return;
  }
  if (wanted !== now || !rack()) return;
  drawer = { key: now, address: r.dataset.deck, cards };
  if (!same) at = 0;
  at = Math.min(at, Math.max(0, drawer.cards.length - 1));
  draw();
}

function figure(card) {
  const f = document.createElement('figure');
  f.className = 'riffled';
  f.dataset.id = card.id;
  const tab = document.createElement('figcaption');
  tab.className = 'tab';
  const name = document.createElement('b');
  name.textContent = card.n;
  tab.append(name, ...card.l.map((l) => { const s = document.createElement('span'); s.textContent = l; return s; }));
  const colour = document.createElement('span');
  colour.className = 'colour';
  colour.style.cssText = card.c;
  f.append(tab, colour);
  return f;
}

function draw() {
  const r = rack();
  if (!r || !drawer?.cards.length) return;
  const seen = new Map([...r.querySelectorAll('.riffled')].map((f) => [Number(f.dataset.id), f]));
  const from = Math.max(0, at - SIDE);
  const to = Math.min(drawer.cards.length, at + SIDE + 1);
  const kept = new Set();
  // At either end of the drawer the front card stands at that end.
  const half = (r.clientWidth - FRONT) / 2;
  const last = drawer.cards.length - 1 - at;
  const shift = Math.max(0, half - last * STEP) - Math.max(0, half - at * STEP);
  for (let i = from; i < to; i++) {
    const card = drawer.cards[i];
    let f = seen.get(card.id);
    if (!f) { f = figure(card); r.append(f); }
    kept.add(card.id);
    const off = i - at;
    const x = half + shift + (off > 0 ? FRONT - BACK : 0) + off * STEP;
    f.style.transform = `translateX(${x}px)`;
    f.style.zIndex = SIDE - Math.abs(off);
    f.classList.toggle('front', off === 0);
    f.classList.toggle('flagged', flagged(card));
  }
  for (const [id, f] of seen) if (!kept.has(id)) f.remove();
  const card = drawer.cards[at];
  document.getElementById('riffle-at').textContent = `${at + 1} of ${drawer.cards.length}`;
  document.getElementById('deck-pull').disabled = Boolean(inTray(card));
  document.getElementById('deck-aside').disabled = !inTray(card);
  document.getElementById('deck-flag').textContent = flagged(card) ? 'Don’t print' : 'Print this';
}

function riffle(by) {
  if (!drawer) return;
  const next = Math.min(drawer.cards.length - 1, Math.max(0, at + by));
  if (next === at) return;
  at = next;
  draw();
}

const acts = {
  lay: (card) => change({ do: 'lay', token: `m${card.id}` }),
  pull: (card) => change({ do: 'pull', material: card.id }),
  flag: (card) => change({ do: 'flag', material: card.id, ...(flagged(card) ? {} : { on: 1 }) }),
  aside: (card) => {
    const t = inTray(card);
    if (t) change({ do: 'aside', key: t.dataset.key });
  },
};

function startDeck() {
  onBench(fill);
  document.addEventListener('click', (e) => {
    const step = e.target.closest('[data-riffle]');
    if (step) riffle(Number(step.dataset.riffle));
    const act = e.target.closest('[data-card]');
    if (act && drawer) acts[act.dataset.card](drawer.cards[at]);
    const f = e.target.closest('#riffle .riffled');
    if (f && drawer) {
      const i = drawer.cards.findIndex((c) => c.id === Number(f.dataset.id));
      if (i === at) acts.lay(drawer.cards[at]);
      else { at = i; draw(); }
      rack().focus({ preventScroll: true });
    }
  });
  document.addEventListener('wheel', (e) => {
    if (e.target.closest?.('#riffle')) { e.preventDefault(); riffle(Math.sign(e.deltaY || e.deltaX)); }
  }, { passive: false });
  document.addEventListener('keydown', (e) => {
    if (e.target.id !== 'riffle' || !drawer || e.ctrlKey || e.metaKey || e.altKey) return;
    const by = { ArrowLeft: -1, ArrowRight: 1, PageUp: -10, PageDown: 10, Home: -drawer.cards.length, End: drawer.cards.length }[e.key];
    if (by) { e.preventDefault(); riffle(by); say(drawer.cards[at].n); }
    if (e.key === 'Enter') { e.preventDefault(); acts.lay(drawer.cards[at]); }
  });
}

startDeck();
