// The draft: a click marks a square of its grids.

import { change } from './bench.js';

document.addEventListener('click', (e) => {
  const mark = e.target.closest('#draft .mark');
  if (!mark) return;
  const [grid, across, down] = mark.dataset.mark.split('.');
  change({ do: 'draft-mark', grid, across, down });
});
