// The run: dragging a card out of the picture, or back in from the heap. The
// server says at once what the run is without it.

import { bench, change, hint, show } from './bench.js';

const START = 6; // pixels before a press becomes a drag
const picture = () => document.getElementById('run');
const address = (query) => `/plans/${bench().dataset.plan}/values${query}`;

// The step that is pointed at, or that has the focus, shows its alternatives and
// keeps showing them. A pointer must rest a moment: it may only be on its way.
const REST = 140; // ms
let rest = 0;
const stepAt = (e) => e.target.closest?.('#steps .run-step')?.parentElement;
function open(step) {
  if (!step?.isConnected || step.classList.contains('on')) return;
  for (const li of step.parentElement.children) li.classList.toggle('on', li === step);
}

function startRun() {
  document.addEventListener('pointerover', (e) => {
    clearTimeout(rest);
    const step = stepAt(e);
    if (step) rest = setTimeout(open, REST, step);
  });
  for (const kind of ['focusin', 'click']) document.addEventListener(kind, (e) => open(stepAt(e)));
  let drag = null;
  const inside = (e) => {
    const r = picture()?.getBoundingClientRect();
    return r && e.clientX > r.left && e.clientX < r.right && e.clientY > r.top && e.clientY < r.bottom;
  };
  const follow = (e) => { drag.ghost.style.left = `${e.clientX}px`; drag.ghost.style.top = `${e.clientY}px`; };

  document.addEventListener('pointerdown', (e) => {
    const from = e.target.closest?.('.run-card, #heap li[data-token]');
    if (!from || e.button || e.target.closest('button')) return;
    e.preventDefault();
    if (from.tabIndex >= 0) from.focus();
    drag = { token: from.dataset.token, heap: from.matches('li'), x: e.clientX, y: e.clientY, without: from.matches('li'), ghost: null,
      colour: getComputedStyle(from.querySelector('path:last-of-type, i')) };
  });
  document.addEventListener('pointermove', (e) => {
    if (!drag) return;
    if (!drag.ghost) {
      if (Math.hypot(e.clientX - drag.x, e.clientY - drag.y) < START) return;
      drag.ghost = document.createElement('div');
      drag.ghost.className = 'dragged';
      drag.ghost.style.background = drag.heap ? drag.colour.backgroundColor : drag.colour.fill;
      document.body.append(drag.ghost);
    }
    follow(e);
    const out = !inside(e);
    document.getElementById('heap')?.classList.toggle('drop', out);
    if (!drag.heap && out !== drag.without) {
      drag.without = out;
      show(address(out ? `?without=${drag.token}` : ''));
    }
  });
  const end = (e) => {
    if (!drag) return;
    const d = drag;
    drag = null;
    d.ghost?.remove();
    document.getElementById('heap')?.classList.remove('drop');
    if (!d.ghost) {
      if (!d.heap) hint('Drag the card out of the picture to set it aside, or press Enter on it.');
      return;
    }
    const dropped = e.type === 'pointerup';
    if (d.heap && dropped && inside(e)) change({ do: 'put-back', token: d.token });
    else if (!d.heap && dropped && !inside(e)) change({ do: 'leave-out', token: d.token });
    else if (!d.heap) show(address(''));
  };
  document.addEventListener('pointerup', end);
  document.addEventListener('pointercancel', end);
  document.addEventListener('keydown', (e) => {
    const card = e.target.closest?.('.run-card');
    if (card && (e.key === 'Enter' || e.key === ' ')) { e.preventDefault(); change({ do: 'leave-out', token: card.dataset.token }); }
  });
}

startRun();
