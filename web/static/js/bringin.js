// Bringing in a list: while it is written, a bar tells how far it is, and a
// button stops it.

import { onBench, send } from './bench.js';

const EVERY = 120; // ms between two looks at how far it is
let form = null;

async function follow(id) {
  const bar = document.getElementById('progress');
  const told = document.getElementById('progress-told');
  for (; bar.isConnected && !bar.hidden; await new Promise((r) => { setTimeout(r, EVERY); })) {
    const { done, of, running } = await (await fetch(`/shelf/import/${id}/progress`)).json();
    if (!running || !of) continue;
    bar.max = of;
    bar.value = done;
    told.textContent = `${done} of ${of} written`;
  }
}

function start(e) {
  e.preventDefault();
  const { id } = form.dataset;
  for (const part of document.querySelectorAll('[data-while]')) part.hidden = false;
  document.getElementById('confirm').disabled = true;
  document.getElementById('stop-import').focus();
  follow(id);
  send(form.action, new FormData(form));
}

/** Watches over the form that brings a list in, when the page has one. */
export function startBringIn() {
  onBench(() => {
    const found = document.querySelector('form[data-import]');
    if (!found || found === form) return;
    form = found;
    form.addEventListener('submit', start);
    document.getElementById('stop-import').addEventListener('click', () => {
      fetch(`/shelf/import/${form.dataset.id}/stop`, { method: 'POST' });
    });
  });
}
