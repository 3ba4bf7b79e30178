// The chart: a picture of a pixel a stitch under a canvas that shows the grid,
// the cursor and what is being painted.

import { change, onBench } from './bench.js';

const LEAST = 7; // px of a stitch; a larger chart scrolls
let yarn = null; // that paints, kept while the bench is replaced
let cursor = [0, 0];
let stroke = null; // the stitches under the pointer
let inLine = false; // a press draws a line, kept while the bench is replaced
let pressed = null; // the last stitch that was pressed, from which a line can go on

const chartBox = () => document.getElementById('chart');

function layChart() {
  const box = chartBox();
  if (!box) return;
  const kept = document.querySelector(`#yarns input[value="${yarn}"]`);
  if (kept) kept.checked = true;
  document.getElementById('in-line').checked = inLine;
  const [across, down, ratio] = [box.dataset.across, box.dataset.down, box.dataset.ratio].map(Number);
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

// Every stitch between this place and the last, so that a fast stroke has no holes.
function strokeTo(at) {
  const n = Math.max(Math.abs(at[0] - cursor[0]), Math.abs(at[1] - cursor[1]), 1);
  for (let i = 0; i <= n; i++) stroke.add(`${Math.round(cursor[0] + (at[0] - cursor[0]) * i / n)}.${Math.round(cursor[1] + (at[1] - cursor[1]) * i / n)}`);
  cursor = at;
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
    const from = inLine && pressed ? pressed : at;
    stroke = new Set();
    pressed = at;
    cursor = from;
    strokeTo(at);
    paintGrid();
  });
  document.addEventListener('pointermove', (e) => {
    if (!stroke) return;
    const at = stitchUnder(e);
    if (!at) return;
    strokeTo(at);
    pressed = at;
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
  document.addEventListener('change', (e) => {
    if (e.target.closest('#yarns')) yarn = e.target.value;
    if (e.target.id === 'in-line') inLine = /** @type {HTMLInputElement} */ (e.target).checked;
  });
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

startChart();
