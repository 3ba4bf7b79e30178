// An assembly on a canvas: turned by dragging or with the arrow keys, taken apart by
// a slider, and given the chosen card by a click. While it moves a coarser likeness
// is drawn.

import { change, hint, onBench } from './bench.js';
import { chosen } from './tray.js';

const pose = { yaw: 0.6, pitch: 0.45, zoom: 1.1, apart: 0 };
const models = {}; // by address: fine and coarse
let grip = null; // where the pointer took hold
let byFace = false; // a press colours a single face
let still = 0; // timer that draws the fine mesh once it rests

const view = () => document.getElementById('solid-view');

async function load(address) {
  const answer = await fetch(address);
  if (!answer.ok) throw new Error(answer.statusText);
  const data = await answer.arrayBuffer();
  const [corners, triangles, parts] = new Uint32Array(data, 0, 3);
  let at = 12;
  const floats = (n) => { const out = new Float32Array(data, at, n); at += 4 * n; return out; };
  const middles = floats(3 * parts);
  const whole = floats(4);
  const place = floats(3 * corners);
  const part = new Uint8Array(data, at, corners);
  at += corners + 3 & ~3;
  const index = new Uint32Array(data, at, 3 * triangles);
  return { corners, triangles, middles, whole, place, part, index, seen: new Float32Array(3 * corners) };
}

// Turns every corner into the view: x right, y down, z toward the eye.
function turn(m, width, height) {
  const [cy, sy, cp, sp] = [Math.cos(pose.yaw), Math.sin(pose.yaw), Math.cos(pose.pitch), Math.sin(pose.pitch)];
  const [mx, my, mz, reach] = m.whole;
  const k = pose.zoom * Math.min(width, height) / 2 / (reach * (1 + pose.apart));
  const { place, part, middles, seen } = m;
  for (let i = 0; i < m.corners; i++) {
    const p = 3 * part[i];
    const x = place[3 * i] - mx + pose.apart * (middles[p] - mx);
    const y = place[3 * i + 1] - my + pose.apart * (middles[p + 1] - my);
    const z = place[3 * i + 2] - mz + pose.apart * (middles[p + 2] - mz);
    const u = cy * x + sy * y;
    const v = -sy * x + cy * y;
    seen[3 * i] = width / 2 + k * u;
    seen[3 * i + 1] = height / 2 - k * (cp * z + sp * v);
    seen[3 * i + 2] = k * (sp * z - cp * v);
  }
}

const LIGHT = [-0.45, -0.6, 0.66];
const SHADES = 64;

// A colour in each shade, as the canvas keeps its pixels.
function shades(hex) {
  const n = parseInt(hex.slice(1), 16);
  const out = new Uint32Array(SHADES);
  for (let s = 0; s < SHADES; s++) {
    const k = 0.32 + 0.74 * s / (SHADES - 1);
    const c = (v) => Math.min(255, Math.round(v * k));
    out[s] = 255 << 24 | c(n & 255) << 16 | c(n >> 8 & 255) << 8 | c(n >> 16);
  }
  return out;
}

function draw(m, box) {
  const canvas = box.querySelector('canvas');
  const width = canvas.clientWidth;
  const height = canvas.clientHeight;
  if (!width || !height) return;
  if (canvas.width !== width || canvas.height !== height) { canvas.width = width; canvas.height = height; }
  const c = canvas.getContext('2d');
  if (box.drawn?.width !== width || box.drawn.height !== height) {
    const image = c.createImageData(width, height);
    box.drawn = { width, height, image, pixels: new Uint32Array(image.data.buffer), depth: new Float32Array(width * height), ids: new Uint8Array(width * height) };
  }
  const { image, pixels, depth, ids } = box.drawn;
  pixels.fill(0);
  depth.fill(-Infinity);
  ids.fill(255);
  turn(m, width, height);
  const colours = box.dataset.colours.split(' ').map(shades);
  const { index, seen, part } = m;
  for (let t = 0; t < index.length; t += 3) {
    const a = 3 * index[t];
    const b = 3 * index[t + 1];
    const d = 3 * index[t + 2];
    const [ax, ay, az] = [seen[a], seen[a + 1], seen[a + 2]];
    const ux = seen[b] - ax;
    const uy = seen[b + 1] - ay;
    const uz = seen[b + 2] - az;
    const vx = seen[d] - ax;
    const vy = seen[d + 1] - ay;
    const vz = seen[d + 2] - az;
    const area = ux * vy - vx * uy;
    if (area === 0) continue;
    const x0 = Math.max(0, Math.ceil(Math.min(ax, ax + ux, ax + vx) - 0.5));
    const x1 = Math.min(width - 1, Math.floor(Math.max(ax, ax + ux, ax + vx) - 0.5));
    const y0 = Math.max(0, Math.ceil(Math.min(ay, ay + uy, ay + vy) - 0.5));
    const y1 = Math.min(height - 1, Math.floor(Math.max(ay, ay + uy, ay + vy) - 0.5));
    if (x0 > x1 || y0 > y1) continue;
    const nx = uy * vz - uz * vy;
    const ny = uz * vx - ux * vz;
    const side = area < 0 ? -1 : 1; // toward the eye, whichever way round it is
    const lit = side * (nx * LIGHT[0] + ny * LIGHT[1] + area * LIGHT[2]) / Math.sqrt(nx * nx + ny * ny + area * area);
    const id = part[index[t]];
    const pixel = colours[id][Math.max(0, Math.min(SHADES - 1, Math.round(lit * (SHADES - 1))))];
    const zx = (uz * vy - vz * uy) / area;
    const zy = (vz * ux - uz * vx) / area;
    for (let y = y0; y <= y1; y++) {
      const py = y + 0.5 - ay;
      for (let x = x0; x <= x1; x++) {
        const px = x + 0.5 - ax;
        const p = (px * vy - vx * py) / area;
        const q = (ux * py - px * uy) / area;
        if (p < 0 || q < 0 || p + q > 1) continue;
        const z = az + zx * px + zy * py;
        const i = y * width + x;
        if (z > depth[i]) { depth[i] = z; pixels[i] = pixel; ids[i] = id; }
      }
    }
  }
  c.putImageData(image, 0, 0);
}

let asked = false;
/** Draws on the next frame: coarse while it moves, fine once it rests. */
function redraw(moving) {
  clearTimeout(still);
  if (moving) still = setTimeout(() => redraw(false), 140);
  if (asked) return;
  asked = true;
  requestAnimationFrame(() => {
    asked = false;
    const box = view();
    const m = box && models[box.dataset.model];
    if (!m) return;
    const begun = performance.now();
    draw(moving ? m.coarse : m.fine, box);
    box.dataset.took = (performance.now() - begun).toFixed(1);
    box.dataset.shown = moving ? 'coarse' : 'fine';
  });
}

async function show() {
  const box = view();
  if (!box) return;
  const address = box.dataset.model;
  if (!models[address]) {
    box.dataset.loading = '';
    for (const old of Object.keys(models)) delete models[old];
    try {
      const [coarse, fine] = await Promise.all([load(`${address}&coarse=1`), load(address)]);
      models[address] = { coarse, fine };
    } catch {
      hint('The model could not be loaded. Start Lamp Fern again if it has stopped, then load this page.');
      return;
    } finally {
      delete box.dataset.loading;
    }
  }
  redraw(false);
}

// The line of sight through a place of the canvas, in mm of the assembly.
function sight(m, sx, sy, { width, height }) {
  if (!m || pose.apart) return null;
  const [cy, sy0, cp, sp] = [Math.cos(pose.yaw), Math.sin(pose.yaw), Math.cos(pose.pitch), Math.sin(pose.pitch)];
  const [mx, my, mz, reach] = m.whole;
  const k = pose.zoom * Math.min(width, height) / 2 / reach;
  const u = (sx - width / 2) / k;
  const up = (height / 2 - sy) / k;
  const at = (w) => { // the place so far toward the eye
    const z = cp * up + sp * w;
    const v = sp * up - cp * w;
    return [cy * u - sy0 * v + mx, sy0 * u + cy * v + my, z + mz];
  };
  const [from, to] = [at(3 * reach), at(0)];
  const way = from.map((v, i) => to[i] - v);
  const [x, y, z] = from.map((v) => v.toFixed(5));
  const [dx, dy, dz] = way.map((v) => v.toFixed(5));
  return { x, y, z, dx, dy, dz };
}

function give(e) {
  const box = view();
  const at = box.querySelector('canvas').getBoundingClientRect();
  const id = box.drawn?.ids[Math.floor(e.clientY - at.top) * box.drawn.width + Math.floor(e.clientX - at.left)];
  if (id === undefined || id === 255) return;
  const card = chosen();
  if (card && byFace) {
    const ray = sight(models[box.dataset.model]?.fine, e.clientX - at.left, e.clientY - at.top, box.drawn);
    if (ray) change({ do: 'face', key: card.dataset.key, ...ray });
    else hint('Set Spread apart to 0 first, to paint single facets.');
    return;
  }
  if (card) change({ do: 'fill', part: box.dataset.parts.split(' ')[id], key: card.dataset.key });
  else hint('Choose a card from the tray, then the part to colour.');
}

// Turns the assembly by a key, or by the button that stands for it.
function turnView(key) {
  const by = { ArrowLeft: [-0.15, 0], ArrowRight: [0.15, 0], ArrowUp: [0, -0.15], ArrowDown: [0, 0.15] }[key];
  if (by) {
    pose.yaw += by[0];
    pose.pitch = Math.max(-1.57, Math.min(1.57, pose.pitch + by[1]));
  } else if (key === '+' || key === '-') pose.zoom = Math.max(0.4, Math.min(8, pose.zoom * (key === '+' ? 1.2 : 1 / 1.2)));
  else return false;
  redraw(true);
  return true;
}

function startSolid() {
  onBench(() => {
    const box = document.getElementById('by-face');
    if (box instanceof HTMLInputElement) box.checked = byFace; // stays through every change
    show();
  });
  document.addEventListener('change', (e) => {
    if (e.target instanceof HTMLInputElement && e.target.id === 'by-face') byFace = e.target.checked;
  });
  window.addEventListener('resize', () => redraw(false));
  document.addEventListener('pointerdown', (e) => {
    if (!e.target.closest('#solid-view canvas')) return;
    e.preventDefault();
    e.target.focus({ preventScroll: true });
    grip = { x: e.clientX, y: e.clientY, yaw: pose.yaw, pitch: pose.pitch, moved: false };
  });
  document.addEventListener('pointermove', (e) => {
    if (!grip) return;
    const dx = e.clientX - grip.x;
    const dy = e.clientY - grip.y;
    grip.moved ||= Math.abs(dx) + Math.abs(dy) > 3;
    if (!grip.moved) return;
    pose.yaw = grip.yaw + dx * 0.01;
    pose.pitch = Math.max(-1.57, Math.min(1.57, grip.pitch + dy * 0.01));
    redraw(true);
  });
  document.addEventListener('pointercancel', () => { grip = null; });
  document.addEventListener('pointerup', (e) => {
    if (!grip) return;
    const { moved } = grip;
    grip = null;
    if (moved) redraw(false);
    else give(e);
  });
  document.addEventListener('wheel', (e) => {
    if (!e.target.closest?.('#solid-view canvas')) return;
    e.preventDefault();
    pose.zoom = Math.max(0.4, Math.min(8, pose.zoom * (e.deltaY < 0 ? 1.12 : 1 / 1.12)));
    redraw(true);
  }, { passive: false });
  document.addEventListener('input', (e) => {
    if (e.target.id !== 'apart') return;
    pose.apart = Number(e.target.value) / 100;
    redraw(true);
  });
  document.addEventListener('keydown', (e) => {
    if (!e.target.closest?.('#solid-view canvas') || e.ctrlKey || e.metaKey || e.altKey) return;
    if (turnView(e.key)) e.preventDefault();
  }, true);
  document.addEventListener('click', (e) => {
    const b = e.target.closest('[data-turns]');
    if (b) turnView(b.dataset.turns);
  });
}

startSolid();
