// The photo: marking the white, boxing materials, by pointer or by keys.

import { bench, onBench, show } from './bench.js';

let mode = null; // "white", "box" or "crop"
const CLICK = 0.024; // side of the box that a click takes, as a share of the width
const STEP = 0.01;
const cross = { x: 0.5, y: 0.5 };
const photo = () => document.getElementById('photo');
const now = () => mode ?? (photo()?.dataset.white ? 'box' : 'white');

function mark() {
  if (!photo()) { mode = null; return; }
  for (const b of document.querySelectorAll('[data-photo-mode]')) b.setAttribute('aria-pressed', b.dataset.photoMode === now());
}

function take(box) {
  const p = photo();
  const q = new URLSearchParams(p.dataset.query);
  const text = [box.x, box.y, box.w, box.h].map((v) => v.toFixed(4)).join();
  if (now() === 'white') {
    q.set('white', text);
    q.set('wl', document.getElementById('white-lightness').value);
    mode = 'box';
  } else if (now() === 'crop') {
    q.set('crop', text);
    mode = 'box';
  } else q.append('box', text);
  go(`/photos/${p.dataset.hash}?${q}`);
}

// What was typed beside a box stays with it when others come and go.
const fields = (section) => [...section.querySelectorAll('input, select')].filter((f) => f.name);
async function go(address) {
  const typed = new Map([...document.querySelectorAll('.taken')].map((s) => [s.dataset.box, fields(s).map((f) => [f.name, f.value])]));
  const kind = document.getElementById('keep-kind')?.value;
  await show(address);
  for (const s of document.querySelectorAll('.taken')) {
    for (const [name, value] of typed.get(s.dataset.box) ?? []) fields(s).find((f) => f.name === name).value = value;
  }
  if (kind && document.getElementById('keep-kind')) document.getElementById('keep-kind').value = kind;
  history.replaceState(null, '', bench().dataset.path);
}

function startPhoto() {
  onBench(mark);
  let drag = null;
  const at = (e) => {
    const r = photo().querySelector('img').getBoundingClientRect();
    const part = (v, from, size) => Math.min(1, Math.max(0, (v - from) / size));
    return { x: part(e.clientX, r.left, r.width), y: part(e.clientY, r.top, r.height), ratio: r.width / r.height };
  };
  const boxOf = (a, b) => ({ x: Math.min(a.x, b.x), y: Math.min(a.y, b.y), w: Math.abs(a.x - b.x), h: Math.abs(a.y - b.y) });
  const around = (a) => ({ x: a.x - CLICK / 2, y: a.y - (CLICK / 2) * a.ratio, w: CLICK, h: CLICK * a.ratio });
  const place = (el, b) => { el.style.left = `${100 * b.x}%`; el.style.top = `${100 * b.y}%`; el.style.width = `${100 * b.w}%`; el.style.height = `${100 * b.h}%`; };

  document.addEventListener('pointerdown', (e) => {
    if (e.button || !e.target.closest('#photo')) return;
    e.preventDefault();
    photo().focus();
    const frame = document.createElement('i');
    frame.className = 'box drawing';
    photo().append(frame);
    drag = { from: at(e), frame };
  });
  document.addEventListener('pointermove', (e) => { if (drag) place(drag.frame, boxOf(drag.from, at(e))); });
  document.addEventListener('pointercancel', () => { drag?.frame.remove(); drag = null; });
  document.addEventListener('pointerup', (e) => {
    if (!drag) return;
    const b = boxOf(drag.from, at(e));
    const { frame, from } = drag;
    drag = null;
    frame.remove();
    take(b.w > 0.008 && b.h > 0.008 ? b : around(from));
  });
  document.addEventListener('keydown', (e) => {
    if (e.target.id !== 'photo') return;
    const by = e.shiftKey ? 5 * STEP : STEP;
    const move = { ArrowLeft: [-by, 0], ArrowRight: [by, 0], ArrowUp: [0, -by], ArrowDown: [0, by] }[e.key];
    const r = photo().querySelector('img');
    if (move) {
      e.preventDefault();
      cross.x = Math.min(1, Math.max(0, cross.x + move[0]));
      cross.y = Math.min(1, Math.max(0, cross.y + move[1]));
      let c = photo().querySelector('.cross');
      if (!c) { c = document.createElement('i'); c.className = 'box cross drawing'; photo().append(c); }
      place(c, around({ ...cross, ratio: r.clientWidth / r.clientHeight }));
    }
    if (e.key === 'Enter') { e.preventDefault(); take(around({ ...cross, ratio: r.clientWidth / r.clientHeight })); }
  });
  document.addEventListener('click', (e) => {
    const m = e.target.closest('[data-photo-mode]');
    if (m) { mode = m.dataset.photoMode; mark(); }
    const link = e.target.closest('a[data-show]');
    if (link && !e.ctrlKey && !e.metaKey) { e.preventDefault(); go(link.getAttribute('href')); }
  });
  document.addEventListener('change', (e) => {
    if (e.target.id === 'white-lightness' && photo().dataset.white) {
      const q = new URLSearchParams(photo().dataset.query);
      q.set('wl', e.target.value);
      go(`/photos/${photo().dataset.hash}?${q}`);
    }
  });
  // A photo dropped anywhere on the page of photos is brought in.
  const form = () => document.getElementById('photo-form');
  const files = (e) => form() && [...(e.dataTransfer?.types ?? [])].includes('Files');
  document.addEventListener('dragover', (e) => { if (files(e)) e.preventDefault(); });
  document.addEventListener('drop', (e) => {
    if (!files(e)) return;
    e.preventDefault();
    form().querySelector('input[type=file]').files = e.dataTransfer.files;
    form().requestSubmit();
  });
}

startPhoto();
