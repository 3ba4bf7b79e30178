// Bringing in a list: while it is written, a bar tells how far it is, and a
// button stops it.

import { hint, onBench, send } from './bench.js';

const EVERY = 120; // ms between two looks at how far it is
let form = null;

async function follow(id) {
  const bar = document.getElementById('progress');
  const told = document.getElementById('progress-told');
  for (; bar.isConnected && !bar.hidden; await new Promise((r) => { setTimeout(r, EVERY); })) {
    let answer = null;
    try {
      answer = await (await fetch(`/shelf/import/${id}/progress`)).json();
    } catch { continue; } // the answer to the form says what came of it
    const { done, of, running } = answer;
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
  // Where no answer came the form is as it was, to be sent again.
  send(form.action, new FormData(form)).then(() => {
    if (!form?.isConnected) return;
    for (const part of document.querySelectorAll('[data-while]')) part.hidden = true;
    document.getElementById('confirm').disabled = false;
  });
}

/** Watches over the form that brings a list in, when the page has one. */
function startBringIn() {
  onBench(() => {
    const found = document.querySelector('form[data-import]');
    if (!found || found === form) return;
    form = found;
    form.addEventListener('submit', start);
    document.getElementById('stop-import').addEventListener('click', () => {
      fetch(`/shelf/import/${form.dataset.id}/stop`, { method: 'POST' }).catch(() => hint('Lamp Fern did not answer, so the import was not cancelled.'));
    });
  });
}

startBringIn();
