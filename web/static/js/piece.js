// The piece: giving the chosen card to a part.

import { change, hint } from './bench.js';
import { chosen } from './tray.js';

function give(part) {
  const c = chosen();
  if (c) change({ do: 'fill', part: part.dataset.part, key: c.dataset.key });
  else hint('Choose a card of the tray first, then the part that takes it.');
}

export function startPiece() {
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
