// The piece beside a stage: a press on a part chooses its card, or puts the chosen card there.

import { change } from './bench.js';
import { choose, chosen } from './tray.js';

/** The part of the piece under a place of the window, or null where its outlines cannot tell. */
function partAt(svg, e) {
  const p = new DOMPoint(e.clientX, e.clientY).matrixTransform(svg.getScreenCTM().inverse());
  const drawn = [...document.querySelectorAll('#on-piece-shape [id^=on-piece-shape-part]')].reverse(); // the top one first
  const hit = drawn.find((path) => /** @type {SVGPathElement} */ (path).isPointInFill(p));
  const n = /part(\d+)$/.exec(hit?.id ?? '')?.[1];
  return n ? JSON.parse(svg.closest('[data-parts]').dataset.parts)[n] : null;
}

export function startOnPiece() {
  document.addEventListener('click', (e) => {
    const svg = e.target.closest?.('#on-piece svg');
    if (!svg || e.ctrlKey || e.metaKey || !e.detail) return; // Enter follows the link
    const part = partAt(svg, e);
    if (!part) return;
    e.preventDefault();
    const card = chosen();
    if (card && card.dataset.key !== String(part.card)) change({ do: 'fill', part: part.key, key: card.dataset.key });
    else if (part.card) choose(card ? null : String(part.card));
  });
}
