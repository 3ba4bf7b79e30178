// Mix: the corners of a painted sheet, pressed in its photo in turn, and results that
// the colour reader reads.

import { show, bench, hint, query } from './bench.js';

const KEYS = ['c0', 'c1', 'c2', 'c3'];
let next = 0; // corner that the next press places

async function place(photo, x, y) {
  const r = photo.querySelector('img').getBoundingClientRect();
  const part = (v, from, size) => (100 * Math.min(1, Math.max(0, (v - from) / size))).toFixed(1);
  const form = document.getElementById('charts-form');
  const q = query(form);
  q.set(KEYS[next], `${part(x, r.left, r.width)}, ${part(y, r.top, r.height)}`);
  next = (next + 1) % KEYS.length;
  await show(`${form.getAttribute('action')}?${q}`);
  history.replaceState(null, '', bench().dataset.path);
}

document.addEventListener('click', (e) => {
  const photo = e.target.closest('[data-corners]');
  if (photo) place(photo, e.clientX, e.clientY);
});

// A reading goes into the first field that is still empty.
async function read(button) {
  const to = [...document.querySelectorAll(button.dataset.read)].find((i) => !i.value);
  if (!to) { hint('Every square has a result. Clear the one to measure again.'); return; }
  button.disabled = true;
  try {
    const answer = await fetch(`/plans/${bench().dataset.plan}/mix-read`, { method: 'POST' });
    const got = await answer.json();
    if (got.result) { to.value = got.result; to.focus(); } else hint(got.trouble);
  } catch {
    hint('The reader did not answer. Check that it is on and try again.');
  }
  button.disabled = false;
}

document.addEventListener('click', (e) => {
  const button = e.target.closest('[data-read]');
  if (button) read(button);
});
