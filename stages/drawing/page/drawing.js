// The drawing: corners are clicked, a rectangle or disc is dragged, an outline is
// moved; what is dragged can be pressed at its beginning and at its end instead. Places are in mm, on the grid or on a corner that is near.

import { change, hint, onBench, query, say } from './bench.js';

const NEAR = 9; // px within which a place snaps to a corner
const SVG = 'http://www.w3.org/2000/svg';
let corners = []; // clicked so far
let drag = null; // { from, at } while a rectangle, disc or outline is dragged
let begun = null; // the same, where only its beginning was pressed

const sheet = () => document.getElementById('drawing');
const tool = () => document.querySelector('#draw-tools input[name=tool]:checked')?.value;

// What is set in the tools stays set while the bench is replaced.
const kept = {};
function keepTools(e) {
  const i = e.target.closest?.('#draw-tools input');
  if (!i) return;
  if (i.type === 'radio') kept.tool = i.value;
  else kept[i.id] = i.type === 'checkbox' ? i.checked : i.value;
}
function setTools() {
  for (const i of document.querySelectorAll('#draw-tools input')) {
    if (i.type === 'radio') { if (kept.tool) i.checked = i.value === kept.tool; } else if (i.id in kept) {
      if (i.type === 'checkbox') i.checked = kept[i.id];
      else i.value = kept[i.id];
    }
  }
}

// The whole drawing in mm; what is seen of it is the view box.
function whole() {
  const r = /** @type {SVGRectElement} */ (sheet().querySelector('rect.sheet'));
  return { width: r.width.baseVal.value, height: r.height.baseVal.value };
}

// What is seen: the middle as shares of the drawing, and how near. It stays while the bench is replaced.
const seen = { x: 0.5, y: 0.5, near: 1 };
function look() {
  if (!sheet()) return;
  const { width, height } = whole();
  const half = 0.5 / seen.near;
  seen.x = Math.min(1 - half, Math.max(half, seen.x));
  seen.y = Math.min(1 - half, Math.max(half, seen.y));
  sheet().setAttribute('viewBox', `${(seen.x - half) * width} ${(seen.y - half) * height} ${width / seen.near} ${height / seen.near}`);
  if (corners.length || drag) showDraft();
}
function zoom(by, toward) {
  const before = seen.near;
  seen.near = Math.min(40, Math.max(1, seen.near * by));
  if (toward) { // what lies under the pointer stays there
    const { width, height } = whole();
    const k = 1 - before / seen.near;
    seen.x += k * (toward.x / width - seen.x);
    seen.y += k * (toward.y / height - seen.y);
  }
  look();
}
function looks(how) {
  const step = 0.25 / seen.near;
  if (how === 'in' || how === 'out') zoom(how === 'in' ? 1.5 : 1 / 1.5);
  else if (how === 'all') { Object.assign(seen, { x: 0.5, y: 0.5, near: 1 }); look(); } else {
    seen.x += { left: -step, right: step }[how] ?? 0;
    seen.y += { up: -step, down: step }[how] ?? 0;
    look();
  }
}

function scale() { return sheet().getScreenCTM().a; } // px a mm

function place(e) {
  const m = sheet().getScreenCTM().inverse();
  const at = new DOMPoint(e.clientX, e.clientY).matrixTransform(m);
  const box = whole();
  for (const p of [...corners, ...existing()]) {
    if (Math.hypot(p[0] - at.x, p[1] - at.y) * scale() < NEAR) return p;
  }
  const step = Number(document.getElementById('draw-step').value.replace(',', '.')) || 0;
  const on = (v, most) => { const r = step > 0 ? Math.round(v / step) * step : v; return Number(Math.min(most, Math.max(0, r)).toFixed(3)); };
  return [on(at.x, box.width), on(at.y, box.height)];
}

function existing() {
  const out = [];
  for (const p of sheet().querySelectorAll('polygon[data-at]')) for (const q of p.points) out.push([q.x, q.y]);
  return out;
}

function showDraft(to) {
  const g = document.getElementById('draft-outline');
  g.replaceChildren();
  document.getElementById('draw-end').classList.toggle('idle', !corners.length); // its room stays, so that the sheet does
  const add = (name, attributes) => { const n = document.createElementNS(SVG, name); for (const [k, v] of Object.entries(attributes)) n.setAttribute(k, v); g.append(n); };
  if (drag?.tool === 'split') add('line', { x1: drag.from[0], y1: drag.from[1], x2: to[0], y2: to[1] });
  else if (drag?.tool === 'rectangle') {
    const [x0, y0] = drag.from;
    add('rect', { x: Math.min(x0, to[0]), y: Math.min(y0, to[1]), width: Math.abs(to[0] - x0), height: Math.abs(to[1] - y0) });
  }
  else if (drag?.tool === 'disc') add('circle', { cx: drag.from[0], cy: drag.from[1], r: Math.hypot(to[0] - drag.from[0], to[1] - drag.from[1]) });
  else if (drag?.tool === 'move') {
    const p = sheet().querySelector(`polygon[data-at="${drag.at}"]`);
    add('polygon', { points: p.getAttribute('points'), transform: `translate(${to[0] - drag.from[0]} ${to[1] - drag.from[1]})` });
  } else if (corners.length) {
    const all = [...corners, ...(to ? [to] : [])];
    if (tool() === 'curve' && all.length > 2) add('path', { d: smooth(all) });
    else add('polyline', { points: all.map((p) => p.join(',')).join(' '), class: tool() === 'line' ? 'draft-line' : 'draft-way' });
    const line = /** @type {SVGElement} */ (g.querySelector('.draft-line'));
    if (line) line.style.strokeWidth = `${Math.max(1, wide() * scale())}px`;
    for (const p of corners) add('circle', { cx: p[0], cy: p[1], r: 4 / scale(), class: 'corner' });
  }
}

const wide = () => Number(/** @type {HTMLInputElement} */ (document.getElementById('line-wide')).value.replace(',', '.')) || 0;

// A closed curve through some places, near to what will be drawn.
function smooth(all) {
  const n = all.length;
  const at = (i) => all[(i + n) % n];
  let d = `M${at(0)}`;
  for (let i = 0; i < n; i++) {
    const [a, b, c, e] = [at(i - 1), at(i), at(i + 1), at(i + 2)];
    d += `C${b[0] + (c[0] - a[0]) / 6},${b[1] + (c[1] - a[1]) / 6} ${c[0] - (e[0] - b[0]) / 6},${c[1] - (e[1] - b[1]) / 6} ${c}`;
  }
  return `${d}Z`;
}

function part() { return document.getElementById('draw-part').value; }

// The line is drawn across the topmost outline at its middle.
function split(a, b) {
  const middle = sheet().createSVGPoint();
  [middle.x, middle.y] = [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2];
  const all = [...sheet().querySelectorAll('polygon[data-at]')].reverse();
  const cut = all.find((p) => p.isPointInFill(middle));
  if (cut) change({ do: 'split', at: cut.dataset.at, part: part(), line: `${a} ${b}` });
  else hint('Draw the line right across the shape to cut it.');
}

function closeOutline() {
  const how = tool();
  if (how === 'line' && (corners.length < 2 || !(wide() > 0))) { hint('A line needs at least two points and a width. Click each point, then finish it.'); return; }
  if (how !== 'line' && corners.length < 3) { hint('A shape needs at least three corners. Click each one.'); return; }
  const all = corners.map((p) => p.join(',')).join(' ');
  corners = [];
  showDraft();
  const follow = document.getElementById('follow')?.checked ? '1' : '';
  if (how === 'line') change({ do: 'outline', part: part(), corners: all, wide: wide() });
  else change({ do: 'outline', part: part(), corners: all, follow, ...(how === 'curve' ? { curved: 1 } : {}) });
}

function startDrawing() {
  onBench(() => { setTools(); if (!sheet()) corners = []; else { look(); showDraft(); } });
  document.addEventListener('click', (e) => {
    const b = e.target.closest?.('[data-zoom]');
    if (b) looks(b.dataset.zoom);
    if (e.target.id === 'draw-end') closeOutline();
  });
  document.addEventListener('wheel', (e) => {
    if (!e.target.closest?.('#drawing')) return;
    e.preventDefault();
    const at = new DOMPoint(e.clientX, e.clientY).matrixTransform(sheet().getScreenCTM().inverse());
    zoom(e.deltaY < 0 ? 1.2 : 1 / 1.2, at);
  }, { passive: false });
  document.addEventListener('input', keepTools);
  document.addEventListener('change', keepTools);
  document.addEventListener('pointerdown', (e) => {
    if (!e.target.closest('#drawing') || e.button) return;
    e.preventDefault();
    sheet().focus({ preventScroll: true });
    const at = place(e);
    if (['corners', 'curve', 'line'].includes(tool())) {
      const first = corners[0];
      const last = corners.at(-1);
      if (tool() === 'line' && last && last[0] === at[0] && last[1] === at[1]) closeOutline();
      else if (tool() !== 'line' && first && corners.length > 2 && first[0] === at[0] && first[1] === at[1]) closeOutline();
      else { corners.push(at); showDraft(at); }
      return;
    }
    if (tool() === 'grow') {
      change({ do: 'grow', part: part(), x: at[0], y: at[1], tolerance: document.getElementById('tolerance').value });
      return;
    }
    const on = e.target.closest('polygon[data-at]');
    if (begun?.tool === tool()) {
      drag = begun;
      begun = null;
      showDraft(at);
      return;
    }
    begun = null;
    if (tool() === 'move' && !on) return;
    drag = { tool: tool(), from: at, at: on?.dataset.at };
  });
  document.addEventListener('pointermove', (e) => {
    if (!sheet() || !(drag || e.target.closest?.('#drawing'))) return;
    const at = place(e);
    const tell = document.getElementById('draw-at');
    tell.textContent = drag ? `${Math.abs(at[0] - drag.from[0]).toFixed(0)} × ${Math.abs(at[1] - drag.from[1]).toFixed(0)} mm` : `${at[0]}, ${at[1]} mm`;
    showDraft(at);
  });
  document.addEventListener('pointercancel', () => { if (drag) { drag = null; showDraft(); } });
  document.addEventListener('pointerup', (e) => {
    if (!drag) return;
    const to = place(e);
    const { tool: how, from, at } = drag;
    drag = null;
    showDraft();
    const dx = to[0] - from[0];
    const dy = to[1] - from[1];
    if (!dx && !dy) {
      begun = { tool: how, from, at };
      const next = { rectangle: 'the opposite corner', disc: 'a point on its edge', split: 'the other end of the line', move: 'where it goes' }[how];
      say(`Now click ${next}.`);
      document.getElementById('draw-at').textContent = `Now press ${next}.`;
      return;
    }
    if (how === 'split') split(from, to);
    else if (how === 'move') change({ do: 'outline-move', at, dx, dy });
    else if (how === 'disc') change({ do: 'outline', part: part(), corners: from.join(','), radius: Math.hypot(dx, dy).toFixed(3) });
    else if (dx && dy) change({ do: 'outline', part: part(), corners: `${from} ${to[0]},${from[1]} ${to} ${from[0]},${to[1]}` });
  });
  document.addEventListener('keydown', (e) => {
    if (e.key === 'Escape') begun = null;
    if (document.activeElement?.id !== 'drawing') return;
    const moves = { '+': 'in', '-': 'out', ArrowLeft: 'left', ArrowRight: 'right', ArrowUp: 'up', ArrowDown: 'down', 0: 'all' }[e.key];
    if (moves && !e.ctrlKey && !e.metaKey && !e.altKey) {
      e.preventDefault();
      e.stopPropagation();
      looks(moves);
      return;
    }
    if (!corners.length) return;
    if (e.key === 'Enter') closeOutline();
    else if (e.key === 'Escape') corners = [];
    else if (e.key === 'Backspace') corners.pop();
    else return;
    e.preventDefault();
    if (sheet()) showDraft();
  }, true);
  for (const kind of ['pointerover', 'focusin']) {
    document.addEventListener(kind, (e) => {
      const row = e.target.closest?.('[data-outline]');
      for (const p of document.querySelectorAll('#drawing polygon[data-at]')) p.classList.toggle('shown', row?.dataset.outline === p.dataset.at);
    });
  }
}

// While a slider of a photo moves, its relief is shown as it would be; letting go
// keeps it. One is asked for at a time.
let asking = false;
let wanted = null;
function preview(form) {
  wanted = form;
  if (asking) return;
  asking = true;
  const at = form.elements.at.value;
  const fields = query(form);
  const picture = new Image();
  wanted = null;
  picture.onload = picture.onerror = () => {
    if (picture.naturalWidth) sheet()?.querySelectorAll('image')[at]?.setAttribute('href', picture.src);
    asking = false;
    if (wanted) preview(wanted);
  };
  picture.src = `/plans/${document.getElementById('bench').dataset.plan}/under/${at}/preview.jpg?${fields}`;
}

document.addEventListener('input', (e) => {
  const form = e.target.closest?.('.bare-form');
  if (form && e.target.type === 'range') preview(form);
});
startDrawing();
