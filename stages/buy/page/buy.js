// The shopping list: what is ticked while the program cannot be reached is kept on this
// device and sent when it is back.

import { bench, onBench, show } from './bench.js';

const RETRY = 8000; // ms between tries
const store = () => `lampfern-ticks-${bench().dataset.plan}`;
const kept = () => JSON.parse(localStorage.getItem(store()) ?? '[]');
const keep = (all) => { if (all.length) localStorage.setItem(store(), JSON.stringify(all)); else localStorage.removeItem(store()); };

let sending = false;
/** Sends what waits, in the order it was ticked; one that is refused is let go of. */
async function send() {
  if (sending || !bench().dataset.plan || !kept().length) return;
  sending = true;
  try {
    while (kept().length) {
      const [first, ...rest] = kept();
      const answer = await fetch(`/plans/${bench().dataset.plan}/change`, { method: 'POST', body: new URLSearchParams(first), headers: { 'X-Lampfern-Part': '1' } });
      if (answer.status === 401 || answer.status >= 500) break; // signed out, or in trouble: it is kept
      keep(rest);
    }
    await show(bench().dataset.path);
  } catch { /* it is still away: tried again later */ }
  sending = false;
  mark();
}

// Rows that wait are marked, so that nothing is ticked twice.
function mark() {
  const list = document.getElementById('shopping');
  if (!list) return;
  const all = kept();
  document.getElementById('waiting').hidden = !all.length;
  for (const f of list.querySelectorAll('form[data-tick]')) {
    f.closest('li').classList.toggle('done', all.some((t) => t.row === new FormData(f).get('row')));
  }
}

// Before the page's own handler sends the form, it is tried whether there is anybody.
document.addEventListener('submit', async (e) => {
  const form = e.target;
  if (!form.hasAttribute('data-tick')) return;
  e.preventDefault();
  e.stopImmediatePropagation();
  keep([...kept(), Object.fromEntries(new FormData(form))]);
  mark();
  await send();
}, true);

onBench(() => { mark(); });
addEventListener('online', send);
setInterval(send, RETRY);
send();
