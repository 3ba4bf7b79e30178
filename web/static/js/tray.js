// The tray: choosing a card, dragging cards into it and along it.

import { bench, change, hint, onBench, say } from './bench.js';

let key = null; // of the chosen card, kept while the bench is replaced
let swapping = null; // the key of a card that waits for the one it swaps with

/** The chosen card's list item, or null. */
export const chosen = () => (key ? document.getElementById('tray-' + key) : null);

/** Chooses a card by its key; null chooses none. A card that waits to be swapped takes it. */
export function choose(next) {
  const first = swapping;
  swapping = null;
  if (first && next && next !== first) {
    change({ do: 'swap', key: first, with: next });
    return;
  }
  key = next;
  mark();
  const c = chosen();
  if (!c) return;
  c.scrollIntoView({ block: 'nearest', inline: 'nearest' });
  say(`${c.querySelector('b').textContent} chosen`);
}

/** Chooses the n-th card of the tray, counted from 0. */
export function chooseNth(n) {
  const c = document.querySelectorAll('.tray-card')[n];
  if (c) { choose(c.dataset.key); c.querySelector('.pick').focus(); }
}

/** Swaps a card with the one that is pressed next; asked twice, with its neighbour. */
export function swap(c) {
  const next = c.nextElementSibling ?? c.parentElement.firstElementChild;
  const name = c.querySelector('b').textContent;
  if (next === c) hint(`${name} is the only card. Add another to swap it with.`);
  else if (swapping === c.dataset.key) choose(next.dataset.key);
  else {
    swapping = c.dataset.key;
    mark();
    hint(`Choose the card to swap with ${name}, or press its number. Swap again for its neighbour; Escape cancels.`);
  }
}

function mark() {
  if (key && !chosen()) key = null;
  for (const c of document.querySelectorAll('.tray-card')) {
    const on = c.dataset.key === key;
    c.classList.toggle('chosen', on);
    c.classList.toggle('swapping', c.dataset.key === swapping);
    c.querySelector('.pick').setAttribute('aria-pressed', on);
  }
}

export function startTray() {
  onBench(() => { swapping = null; mark(); });
  document.addEventListener('click', (e) => {
    const pick = e.target.closest('.tray-card .pick');
    if (pick) {
      const k = pick.parentElement.dataset.key;
      choose(k === key && !swapping ? null : k);
    }
    const asked = e.target.closest('[data-swap]');
    if (asked) swap(asked.closest('.tray-card'));
  });

  let dragged = null; // the card that is being dragged
  const target = (e) => {
    if (!dragged) return null;
    if (dragged.dataset.key) return e.target.closest('.tray-card, .part');
    return e.target.closest('.tray');
  };
  const clear = () => document.querySelectorAll('.drop').forEach((d) => d.classList.remove('drop'));
  document.addEventListener('dragstart', (e) => {
    dragged = e.target.closest?.('.tray-card, .deck-card[data-material]') ?? null;
    if (dragged) { e.dataTransfer.setData('text/plain', dragged.querySelector('b').textContent); e.dataTransfer.effectAllowed = 'move'; }
  });
  document.addEventListener('dragover', (e) => {
    const t = target(e);
    clear();
    if (!t) return;
    e.preventDefault();
    (t.matches('.tray') ? document.getElementById('pull-here') : t).classList.add('drop');
  });
  document.addEventListener('dragend', () => { dragged = null; clear(); });
  document.addEventListener('drop', (e) => {
    const t = target(e);
    if (!t) return;
    e.preventDefault();
    const d = dragged;
    dragged = null;
    clear();
    if (!bench().dataset.plan) return;
    if (t.matches('.part')) change({ do: 'fill', part: t.dataset.part, key: d.dataset.key });
    else if (t.matches('.tray')) change({ do: 'pull', material: d.dataset.material });
    else change({ do: 'move', key: d.dataset.key, to: [...t.parentElement.children].indexOf(t) });
  });
}
