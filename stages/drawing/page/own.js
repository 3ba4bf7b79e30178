// What a maker puts into a piece: giving a card to a place of a piece made of
// cells, marking a draft, painting a chart, drawing outlines.

import { change, hint, onBench } from './bench.js';
import { chosen } from './tray.js';

function startReferences() {
  document.addEventListener('click', (e) => {
    const img = e.target.closest('[data-reference]');
    if (!img) return;
    const box = img.getBoundingClientRect();
    change({ do: 'pick', photo: img.dataset.reference, x: ((e.clientX - box.left) / box.width).toFixed(5), y: ((e.clientY - box.top) / box.height).toFixed(5) });
  });
}

function startCells() {
  document.addEventListener('click', (e) => {
    const cells = e.target.closest('#piece .cells');
    if (!cells) return;
    const card = chosen();
    if (!card) { hint('Choose a card of the tray first, then the yarn that takes it.'); return; }
    const box = cells.querySelector('image').getBoundingClientRect();
    const [x0, y0, x1, y1] = cells.dataset.from.split(' ').map(Number);
    const at = (v, from, size, a, b) => (a + Math.min(0.999999, Math.max(0, (v - from) / size)) * (b - a)).toFixed(7);
    change({ do: 'fill-at', across: at(e.clientX, box.left, box.width, x0, x1), down: at(e.clientY, box.top, box.height, y0, y1), key: card.dataset.key });
  });
  document.addEventListener('click', (e) => {
    const mark = e.target.closest('#draft .mark');
    if (!mark) return;
    const [grid, across, down] = mark.dataset.mark.split('.');
    change({ do: 'draft-mark', grid, across, down });
  });
}

// The chart: a picture of a pixel a stitch under a canvas that shows the grid,
// the cursor and what is being painted.

const LEAST = 7; // px of a stitch; a larger chart scrolls
let yarn = null; // that paints, kept while the bench is replaced
let cursor = [0, 0];
let stroke = null; // the stitches under the pointer

const chartBox = () => document.getElementById('chart');

function layChart() {
  const box = chartBox();
  if (!box) return;
  const kept = document.querySelector(`#yarns input[value="${yarn}"]`);
  if (kept) kept.checked = true;
  const { across, down, ratio } = box.dataset;
  const room = box.parentElement.getBoundingClientRect();
  const cell = Math.max(LEAST, Math.min(44, Math.floor(Math.min((room.width - 8) / across, (room.height - 8) / (down * ratio)))));
  box.style.width = `${cell * across}px`;
  box.style.height = `${Math.round(cell * ratio * down)}px`;
  cursor = [Math.min(cursor[0], across - 1), Math.min(cursor[1], down - 1)];
  paintGrid();
}

function paintGrid() {
  const box = chartBox();
  const canvas = box.querySelector('canvas');
  const across = Number(box.dataset.across);
  const down = Number(box.dataset.down);
  const w = box.clientWidth;
  const h = box.clientHeight;
  canvas.width = w;
  canvas.height = h;
  const c = canvas.getContext('2d');
  for (let i = 0; i <= across; i++) line(c, i * w / across, 0, i * w / across, h, i % 10 === 0);
  for (let j = 0; j <= down; j++) line(c, 0, j * h / down, w, j * h / down, j % 10 === 0);
  const chip = document.querySelector('#yarns input:checked')?.parentElement.querySelector('.chip');
  if (stroke) {
    c.fillStyle = chip ? getComputedStyle(chip).backgroundColor : '#888';
    for (const at of stroke) {
      const [x, y] = at.split('.').map(Number);
      c.fillRect(x * w / across, y * h / down, w / across, h / down);
    }
  }
  if (document.activeElement === box) {
    c.strokeStyle = '#000';
    c.lineWidth = 3;
    c.strokeRect(cursor[0] * w / across, cursor[1] * h / down, w / across, h / down);
    c.strokeStyle = '#fff';
    c.lineWidth = 1;
    c.strokeRect(cursor[0] * w / across, cursor[1] * h / down, w / across, h / down);
  }
}

function line(c, x0, y0, x1, y1, strong) {
  c.strokeStyle = strong ? 'rgba(0,0,0,.55)' : 'rgba(0,0,0,.22)';
  c.lineWidth = 1;
  c.beginPath();
  c.moveTo(Math.round(x0) + 0.5, Math.round(y0) + 0.5);
  c.lineTo(Math.round(x1) + 0.5, Math.round(y1) + 0.5);
  c.stroke();
}

function stitchUnder(e) {
  const box = chartBox();
  const at = box.getBoundingClientRect();
  const x = Math.floor((e.clientX - at.left) / at.width * box.dataset.across);
  const y = Math.floor((e.clientY - at.top) / at.height * box.dataset.down);
  return x >= 0 && y >= 0 && x < box.dataset.across && y < box.dataset.down ? [x, y] : null;
}

function tellStitch() {
  const at = document.getElementById('stitch-at');
  if (at) at.textContent = `stitch ${cursor[0] + 1}, row ${cursor[1] + 1}`;
}

const painting = () => document.querySelector('#yarns input:checked')?.value;

function startChart() {
  onBench(layChart);
  window.addEventListener('resize', layChart);
  document.addEventListener('pointerdown', (e) => {
    if (!e.target.closest('#chart')) return;
    e.preventDefault();
    chartBox().focus();
    const at = stitchUnder(e);
    if (!at) return;
    cursor = at;
    stroke = new Set([at.join('.')]);
    paintGrid();
  });
  document.addEventListener('pointermove', (e) => {
    if (!stroke) return;
    const at = stitchUnder(e);
    if (!at) return;
    // Every stitch between this place and the last, so that a fast stroke has no holes.
    const n = Math.max(Math.abs(at[0] - cursor[0]), Math.abs(at[1] - cursor[1]), 1);
    for (let i = 1; i <= n; i++) stroke.add(`${Math.round(cursor[0] + (at[0] - cursor[0]) * i / n)}.${Math.round(cursor[1] + (at[1] - cursor[1]) * i / n)}`);
    cursor = at;
    tellStitch();
    paintGrid();
  });
  document.addEventListener('pointerup', () => {
    if (!stroke) return;
    const cells = [...stroke].join(' ');
    stroke = null;
    change({ do: 'chart-paint', yarn: painting(), cells }).then(() => { if (chartBox()) paintGrid(); });
  });
  document.addEventListener('pointercancel', () => { if (stroke) { stroke = null; paintGrid(); } });
  document.addEventListener('change', (e) => { if (e.target.closest('#yarns')) { yarn = e.target.value; } });
  document.addEventListener('focusin', (e) => { if (e.target.id === 'chart') { tellStitch(); paintGrid(); } });
  document.addEventListener('focusout', (e) => { if (e.target.id === 'chart' && chartBox()) paintGrid(); });
  document.addEventListener('keydown', (e) => {
    if (document.activeElement?.id !== 'chart' || e.ctrlKey || e.metaKey || e.altKey) return;
    const box = chartBox();
    const step = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[e.key];
    const letter = /^[a-t]$/i.test(e.key) ? e.key.toUpperCase().charCodeAt(0) - 65 : null;
    if (step) {
      cursor = [Math.min(box.dataset.across - 1, Math.max(0, cursor[0] + step[0])), Math.min(box.dataset.down - 1, Math.max(0, cursor[1] + step[1]))];
      tellStitch();
      paintGrid();
    } else if (e.key === ' ' || letter !== null) {
      change({ do: 'chart-paint', yarn: letter ?? painting(), cells: cursor.join('.') });
    } else return;
    e.preventDefault();
  }, true);
}

// The drawing: corners are clicked, a rectangle or disc is dragged, an outline is
// moved. Places are in mm, on the grid or on a corner that is near.

const NEAR = 9; // px within which a place snaps to a corner
const SVG = 'http://www.w3.org/2000/svg';
let corners = []; // clicked so far
let drag = null; // { from, at } while a rectangle, disc or outline is dragged

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

function scale() { return sheet().getScreenCTM().a; } // px a mm

function place(e) {
  const m = sheet().getScreenCTM().inverse();
  const at = new DOMPoint(e.clientX, e.clientY).matrixTransform(m);
  const box = sheet().viewBox.baseVal;
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
  const add = (name, attributes) => { const n = document.createElementNS(SVG, name); for (const [k, v] of Object.entries(attributes)) n.setAttribute(k, v); g.append(n); };
  if (drag?.tool === 'split') add('line', { x1: drag.from[0], y1: drag.from[1], x2: to[0], y2: to[1] });
  else if (drag?.tool === 'rectangle') add('rect', { x: Math.min(drag.from[0], to[0]), y: Math.min(drag.from[1], to[1]), width: Math.abs(to[0] - drag.from[0]), height: Math.abs(to[1] - drag.from[1]) });
  else if (drag?.tool === 'disc') add('circle', { cx: drag.from[0], cy: drag.from[1], r: Math.hypot(to[0] - drag.from[0], to[1] - drag.from[1]) });
  else if (drag?.tool === 'move') {
    const p = sheet().querySelector(`polygon[data-at="${drag.at}"]`);
    add('polygon', { points: p.getAttribute('points'), transform: `translate(${to[0] - drag.from[0]} ${to[1] - drag.from[1]})` });
  } else if (corners.length) {
    add('polyline', { points: [...corners, ...(to ? [to] : [])].map((p) => p.join(',')).join(' ') });
    for (const p of corners) add('circle', { cx: p[0], cy: p[1], r: 4 / scale(), class: 'corner' });
  }
}

function part() { return document.getElementById('draw-part').value; }

// The line is drawn across the topmost outline at its middle.
function split(a, b) {
  const middle = sheet().createSVGPoint();
  [middle.x, middle.y] = [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2];
  const all = [...sheet().querySelectorAll('polygon[data-at]')].reverse();
  const cut = all.find((p) => p.isPointInFill(middle));
  if (cut) change({ do: 'split', at: cut.dataset.at, part: part(), line: `${a} ${b}` });
  else hint('Draw the line right across the outline that is to be cut.');
}

function closeOutline() {
  if (corners.length < 3) { hint('An outline needs three corners or more: click once for each.'); return; }
  const all = corners.map((p) => p.join(',')).join(' ');
  corners = [];
  showDraft();
  const follow = document.getElementById('follow')?.checked ? '1' : '';
  change({ do: 'outline', part: part(), corners: all, follow });
}

function startDrawing() {
  onBench(() => { setTools(); if (!sheet()) corners = []; else showDraft(); });
  document.addEventListener('input', keepTools);
  document.addEventListener('change', keepTools);
  document.addEventListener('pointerdown', (e) => {
    if (!e.target.closest('#drawing') || e.button) return;
    e.preventDefault();
    sheet().focus({ preventScroll: true });
    const at = place(e);
    if (tool() === 'corners') {
      const first = corners[0];
      if (first && corners.length > 2 && first[0] === at[0] && first[1] === at[1]) closeOutline();
      else { corners.push(at); showDraft(at); }
      return;
    }
    if (tool() === 'grow') {
      change({ do: 'grow', part: part(), x: at[0], y: at[1], tolerance: document.getElementById('tolerance').value });
      return;
    }
    const on = e.target.closest('polygon[data-at]');
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
  document.addEventListener('pointerup', (e) => {
    if (!drag) return;
    const to = place(e);
    const { tool: how, from, at } = drag;
    drag = null;
    showDraft();
    const dx = to[0] - from[0];
    const dy = to[1] - from[1];
    if (!dx && !dy) return;
    if (how === 'split') split(from, to);
    else if (how === 'move') change({ do: 'outline-move', at, dx, dy });
    else if (how === 'disc') change({ do: 'outline', part: part(), corners: from.join(','), radius: Math.hypot(dx, dy).toFixed(3) });
    else if (dx && dy) change({ do: 'outline', part: part(), corners: `${from} ${to[0]},${from[1]} ${to} ${from[0]},${to[1]}` });
  });
  document.addEventListener('keydown', (e) => {
    if (document.activeElement?.id !== 'drawing' || !corners.length) return;
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

// While a slider of a photo moves, its template is shown as it would be; letting go
// keeps it. One is asked for at a time.
let asking = false;
let wanted = null;
function preview(form) {
  wanted = form;
  if (asking) return;
  asking = true;
  const at = form.elements.at.value;
  const fields = new URLSearchParams(new FormData(form));
  const picture = new Image();
  wanted = null;
  picture.onload = picture.onerror = () => {
    if (picture.naturalWidth) sheet()?.querySelectorAll('image')[at]?.setAttribute('href', picture.src);
    asking = false;
    if (wanted) preview(wanted);
  };
  picture.src = `/plans/${document.getElementById('bench').dataset.plan}/under/${at}/preview.jpg?${fields}`;
}

function startOwn() {
  document.addEventListener('input', (e) => { const form = e.target.closest?.('.bare-form'); if (form && e.target.type === 'range') preview(form); });
  startCells();
  startReferences();
  startChart();
  startDrawing();
}

startOwn();
