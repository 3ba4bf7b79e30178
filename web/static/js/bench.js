// The one way a page changes: something is sent, the answer's bench replaces
// this one, and the maker's place (focus, scrolling, chosen card) is kept.

const part = { 'X-Lampfern-Part': '1' };
export const bench = () => document.getElementById('bench');

const after = [];
/** Runs f now and after every replacement of the bench. */
export function onBench(f) { after.push(f); f(); }

let queue = Promise.resolve();
let waiting = 0;
/** Runs jobs one after another, so that each is made on the newest revision. */
function inTurn(job) {
  waiting++;
  bench().setAttribute('aria-busy', 'true');
  queue = queue.then(job).catch(tell).finally(() => {
    waiting--;
    if (!waiting) bench().removeAttribute('aria-busy');
  });
  return queue;
}

/** Says a sentence to a maker who cannot see the page change. */
export function say(words) { document.getElementById('said').textContent = words; }

function tell() {
  hint('The program did not answer, so the last change was not kept. Start it again if it has stopped, then make the change once more.');
}

/** Shows a sentence at the head of the stage until the bench is replaced. */
export function hint(words) {
  let p = document.querySelector('#stage > .flash.hint');
  if (!p) {
    p = document.createElement('p');
    p.className = 'flash hint';
    document.getElementById('stage').prepend(p);
  }
  p.textContent = words;
  say(words);
}

/** Makes a change to the plan: fields as the change form takes them. */
export function change(fields) {
  return inTurn(async () => {
    const b = bench();
    if (!b.dataset.plan) return;
    const body = new URLSearchParams(fields);
    body.set('revision', b.dataset.revision);
    body.set('stage', b.dataset.stage);
    const path = b.dataset.path.split('?')[1];
    const answer = await fetch(`/plans/${b.dataset.plan}/change${path ? '?' + path : ''}`, { method: 'POST', body, headers: part });
    replace(await answer.text());
  });
}

/** Shows an address of this site in place of the bench, saving nothing. */
export function show(address) {
  return inTurn(async () => replace(await (await fetch(address, { headers: part })).text()));
}

function replace(html) {
  const old = bench();
  const box = document.createElement('template');
  box.innerHTML = html.trim();
  const fresh = box.content.querySelector('#bench');
  if (!fresh) throw new Error('the answer holds no bench');
  const focus = document.activeElement?.closest('[id]')?.id;
  const scrolled = [...old.querySelectorAll('[data-scroll]')].map((e) => [e.id, e.scrollTop, e.scrollLeft]);
  const open = [...old.querySelectorAll('details[open][id]')].map((e) => e.id);
  old.replaceWith(fresh);
  for (const id of open) fresh.querySelector('#' + CSS.escape(id))?.setAttribute('open', '');
  for (const [id, top, left] of scrolled) {
    const e = fresh.querySelector('#' + CSS.escape(id));
    if (e) { e.scrollTop = top; e.scrollLeft = left; }
  }
  if (focus) document.getElementById(focus)?.focus({ preventScroll: true });
  if (fresh.dataset.title) document.title = fresh.dataset.title;
  say(fresh.querySelector('.flash')?.textContent ?? '');
  for (const f of after) f();
}
