// The piece: giving the chosen card to a part, and dragging where one batten
// ends to try another share.

import { change, hint, onBench } from './bench.js';
import { chosen } from './tray.js';

function give(part) {
  const c = chosen();
  if (c) change({ do: 'fill', part: part.dataset.part, key: c.dataset.key });
  else hint('Choose a card from the tray, then the part to colour.');
}

let pulled = null; // the edge of a batten that follows the pointer

function edgeNear(box, x) {
  const battens = [...box.querySelectorAll('.batten')];
  let best = null;
  for (const b of battens.slice(0, -1)) {
    const at = b.getBoundingClientRect();
    if (!best || Math.abs(at.right - x) < Math.abs(best.end - x)) best = { batten: b, end: at.right, start: at.left };
  }
  return best;
}

function pullEdge(x) {
  const { box, edge, start, mark } = pulled;
  const at = box.getBoundingClientRect();
  const to = Math.min(at.right, Math.max(start + 1, x));
  mark.style.left = `${to - at.left - 1}px`;
  pulled.share = 100 * (to - start) / at.width * pulled.placed;
  mark.firstChild.textContent = `${edge.dataset.name} ${pulled.share.toFixed(pulled.share < 10 ? 1 : 0)} %`;
}

function startBattens() {
  document.addEventListener('pointerdown', (e) => {
    const box = e.target.closest('.battens');
    const near = box && edgeNear(box, e.clientX);
    if (!near) return;
    e.preventDefault();
    const mark = document.createElement('span');
    mark.className = 'batten-edge';
    mark.append(document.createElement('b'));
    box.append(mark);
    // The battens together are what is placed, which may be less than the piece.
    const placed = [...box.querySelectorAll('.batten')].reduce((sum, b) => sum + Number(b.dataset.share), 0) / 100;
    pulled = { box, edge: near.batten, start: near.start, mark, placed, from: e.clientX };
    pullEdge(e.clientX);
  });
  document.addEventListener('pointermove', (e) => { if (pulled) pullEdge(e.clientX); });
  document.addEventListener('pointercancel', () => { pulled?.mark.remove(); pulled = null; });
  document.addEventListener('pointerup', (e) => {
    if (!pulled) return;
    const { edge, share, mark, from } = pulled;
    mark.remove();
    pulled = null;
    if (Math.abs(e.clientX - from) > 2) change({ do: 'batten', key: edge.dataset.key, share: share.toFixed(2) });
  });
}

// Outlines that stay keep their title: it is that of the part as it is now.
function retitle() {
  for (const g of document.querySelectorAll('#piece .part[data-same]')) {
    const title = g.querySelector('title');
    if (title) title.textContent = g.getAttribute('aria-label');
  }
}

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
    if (!card) { hint('Choose a card from the tray, then the yarn to colour.'); return; }
    const box = cells.querySelector('image').getBoundingClientRect();
    const [x0, y0, x1, y1] = cells.dataset.from.split(' ').map(Number);
    const at = (v, from, size, a, b) => (a + Math.min(0.999999, Math.max(0, (v - from) / size)) * (b - a)).toFixed(7);
    change({ do: 'fill-at', across: at(e.clientX, box.left, box.width, x0, x1), down: at(e.clientY, box.top, box.height, y0, y1), key: card.dataset.key });
  });
}

function startPiece() {
  startReferences();
  startCells();
  startBattens();
  onBench(retitle);
  document.addEventListener('click', (e) => {
    const part = e.target.closest('#piece .part');
    if (part) give(part);
  });
  document.addEventListener('keydown', (e) => {
    const part = e.target.closest?.('#piece .part');
    if (part && (e.key === 'Enter' || e.key === ' ')) { e.preventDefault(); give(part); }
  });
  document.addEventListener('change', (e) => {
    const part = e.target.dataset?.partSelect;
    if (part) change({ do: 'fill', part, key: e.target.value });
  });
}

startPiece();
