// Mix: the corners of a painted sheet, pressed in its photo in turn.

import { show, bench, query } from './bench.js';

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
