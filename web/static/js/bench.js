// The one way a page changes: something is sent, this bench becomes the answer's,
// and the maker's place (focus, scrolling, chosen card) is kept.

// Asks for the changed part alone, and tells which fronds, and which outlines of pieces, the page
// has already.
const have = () => [.../** @type {NodeListOf<HTMLElement>} */ (document.querySelectorAll('#fern .fronds, #piece, .shape-of'))].map((n) => n.dataset.key ?? '').join('|');
const part = () => ({ 'X-Lampfern-Part': '1', 'X-Lampfern-Have': have() });
/** The fields of a form as the query of an address. */
export const query = (form) => new URLSearchParams(/** @type {any} */ (new FormData(form)));
export const bench = () => document.getElementById('bench');

const after = [];
/** Runs f now and after every replacement of the bench. */
export function onBench(f) { after.push(f); f(); }

let queue = Promise.resolve();
let waiting = 0;
/** Runs jobs one after another, so that each is made on the newest revision. */
function inTurn(job, failed) {
  waiting++;
  bench().setAttribute('aria-busy', 'true');
  queue = queue.then(job).catch(() => hint(failed)).finally(() => {
    waiting--;
    if (!waiting) bench().removeAttribute('aria-busy');
  });
  return queue;
}

/** Says a sentence to a maker who cannot see the page change. */
export function say(words) { document.getElementById('said').textContent = words; }

const UNCERTAIN = 'Lamp Fern did not answer to the last change. Start it again if it has stopped, then load this page to see whether the change was saved.';
const UNCHANGED = 'Lamp Fern did not answer, so nothing was changed. Start it again if it has stopped, then try again.';

/** Shows a sentence at the head of the stage until the bench is replaced. */
export function hint(words) {
  let p = document.querySelector('#flashes > .hint');
  if (!p) {
    p = document.createElement('p');
    p.className = 'flash hint';
    document.getElementById('flashes').prepend(p);
  }
  p.textContent = words;
  say(words);
}

/** Makes a change to the plan: fields as the change form takes them; form is the one
 * they were typed in, if any. */
export function change(fields, form = null) {
  return inTurn(async () => {
    const b = bench();
    if (!b.dataset.plan) return;
    const body = new URLSearchParams(fields);
    body.set('revision', b.dataset.revision);
    body.set('stage', b.dataset.stage);
    const path = b.dataset.path.split('?')[1];
    const answer = await fetch(`/plans/${b.dataset.plan}/change${path ? '?' + path : ''}`, { method: 'POST', body, headers: part() });
    if (answer.status === REFUSED) replace(await answer.text(), null);
    else replace(await answer.text(), answer.status === CHANGED ? typed() : typed(form, body));
  }, UNCERTAIN);
}

const REFUSED = 422;
const CHANGED = 409; // by another tab meanwhile

let toShow = null; // the address to be shown when it is its turn

/** Shows an address of this site in place of the bench, saving nothing. Of several
 * asked for while another is on its way only the last is fetched. */
export function show(address) {
  const asked = toShow !== null;
  toShow = address;
  if (asked) return queue;
  return inTurn(async () => {
    const now = toShow;
    toShow = null;
    const here = now.split('?')[0] === bench().dataset.path?.split('?')[0];
    replace(await (await fetch(now, { headers: part() })).text(), here ? typed() : []);
    keepPlace();
  }, UNCHANGED);
}

const TOGETHER = 1500; // ms within which looks at one page make one entry of the history
let kept = -Infinity; // when the address was last kept

// What is looked at stands in the address, so that a reload and the back key find it.
function keepPlace() {
  const path = bench().dataset.path;
  if (!path || path === location.pathname + location.search) return;
  const soon = performance.now() - kept < TOGETHER && path.split('?')[0] === location.pathname;
  kept = performance.now();
  if (soon) history.replaceState(null, '', path);
  else history.pushState(null, '', path);
}

addEventListener('popstate', () => show(location.pathname + location.search));

/** Sends a form and shows the page it leads to. */
export function send(address, body) {
  return inTurn(async () => {
    const answer = await fetch(address, { method: 'POST', body, headers: part() });
    replace(await answer.text(), answer.status === REFUSED ? null : []);
    if (answer.redirected) history.pushState(null, '', new URL(answer.url).pathname);
  }, UNCERTAIN);
}

// Shows an answer in place of the bench. stays is what is typed and stays so; null leaves
// every field as it is, to be mended.
function replace(html, stays) {
  const old = bench();
  const box = document.createElement('template');
  box.innerHTML = html.trim();
  const fresh = box.content.querySelector('#bench');
  if (!fresh) throw new Error('the answer holds no bench');
  const back = whereFocusIs();
  const done = lastStep();
  fresh.setAttribute('aria-busy', 'true'); // taken away when the queue is empty
  become(old, fresh);
  if (stays) { fillIn(old); keepTyped(stays); }
  back();
  document.title = old.dataset.title;
  const flash = old.querySelector('.flash')?.textContent;
  say(flash ?? (lastStep() === done ? '' : lastStep()));
  for (const f of after) f();
}

const CAN_FOCUS = 'a[href], button:not(:disabled), input:not([type=hidden], :disabled), select:not(:disabled), textarea, summary, [tabindex="0"]';

// Remembers where the keyboard is, and gives what brings it back there once the bench was
// replaced: to the same thing, else to what took its place in its list, else to what is left of
// the part of the page that it was in.
function whereFocusIs() {
  const was = /** @type {any} */ (document.activeElement);
  if (!was || was === document.body || !bench().contains(was)) return () => {};
  const { id } = was.closest('[id]');
  const { value } = was;
  const above = [];
  for (let n = was; n !== bench(); n = n.parentElement) above.push([n, n.parentElement, [...n.parentElement.children].indexOf(n)]);
  const first = (n) => {
    const all = [n, ...n.querySelectorAll(CAN_FOCUS)].filter((m) => m.matches(CAN_FOCUS) && m.checkVisibility());
    return all.find((m) => m.matches('a, button, summary')) ?? all[0]; // letters pressed next are not typed into a field
  };
  return () => {
    if (document.activeElement !== document.body && !document.activeElement.disabled) return;
    const same = was.name === 'act' && bench().querySelector(`[name=act][value="${CSS.escape(value)}"]:not(:disabled)`);
    let to = same || (document.getElementById(id)?.matches(CAN_FOCUS) && document.getElementById(id));
    for (const [, list, at] of above) {
      if (to || !list.isConnected) continue;
      const all = [...list.children];
      to = [...all.slice(at), ...all.slice(0, at).reverse()].map(first).find((n) => n);
    }
    (to || document.getElementById('stage')).focus({ preventScroll: true });
  };
}

// What undo would take back, in a few words: after a change, the change itself.
const lastStep = () => /^Undo: (.*) \(z\)$/.exec(document.getElementById('undo')?.title ?? '')?.[1] ?? '';

// Gives every field what the answer says, but for the one being typed in.
function fillIn(root) {
  for (const o of root.querySelectorAll('option')) o.selected = o.hasAttribute('selected');
  for (const i of root.querySelectorAll('input:not([type=file])')) {
    if (i.type === 'checkbox' || i.type === 'radio') i.checked = i.hasAttribute('checked');
    else if (i !== document.activeElement) i.value = i.getAttribute('value') ?? '';
  }
  for (const t of root.querySelectorAll('textarea')) if (t !== document.activeElement) t.value = t.defaultValue;
}

// The fields that a maker types in or sets, and that are sent by a button.
const FIELDS = 'input:is([type=text], [type=search], [type=number], [type=date], [type=email], :not([type])), textarea, select:not([data-auto]), [type=checkbox]:not([data-auto])';
const fieldsOf = () => [...bench().querySelectorAll(FIELDS)].filter((f) => f.form && f.name);
// What tells a field from others, also after its element was replaced.
const nameOf = (f) => [f.form.id || f.form.getAttribute('action'), f.form.querySelector('[name=do]')?.value, f.name, f.id].join(' ');
const saved = (f) => (f.type === 'checkbox' ? String(f.hasAttribute('checked')) : f.nodeName === 'SELECT' ? (f.querySelector('option[selected]') ?? f.options[0])?.value ?? '' : f.defaultValue);
const now = (f) => (f.type === 'checkbox' ? String(f.checked) : f.value);
const set = (f, v) => { if (f.type === 'checkbox') f.checked = v === 'true'; else f.value = v; };

// What is typed on the page and not saved, but for what form or body sends.
function typed(form = null, body = null) {
  const count = {};
  return fieldsOf().map((f) => {
    const name = nameOf(f);
    count[name] = (count[name] ?? -1) + 1;
    return { f, name, nth: count[name], was: saved(f), is: now(f) };
  }).filter((t) => t.is !== t.was && t.f.form !== form && !body?.has(t.f.name));
}

const other = new Map(); // what another tab saved in a field in which something else is typed

// Puts back what was typed. Where another tab saved something else in the same field,
// both stand there to choose from.
function keepTyped(all) {
  const count = {};
  const typedIn = new Map(all.map((t) => [t.name + ' ' + t.nth, t]));
  for (const f of fieldsOf()) {
    const name = nameOf(f);
    count[name] = (count[name] ?? -1) + 1;
    const key = name + ' ' + count[name];
    const t = typedIn.get(key);
    if (!t || saved(f) === t.is) { other.delete(key); continue; }
    set(f, t.is);
    if (saved(f) !== t.was) other.set(key, saved(f));
    if (other.has(key)) offer(f, key, other.get(key));
  }
}

function offer(f, key, theirs) {
  const p = document.createElement('em');
  p.className = 'theirs';
  const words = f.nodeName === 'SELECT' ? [...f.options].find((o) => o.value === theirs)?.text : f.type === 'checkbox' ? (theirs === 'true' ? 'yes' : 'no') : theirs;
  const b = document.createElement('b');
  b.textContent = words || 'nothing';
  const take = document.createElement('button');
  take.type = 'button';
  take.className = 'act';
  take.textContent = 'Use this';
  take.addEventListener('click', (e) => { e.preventDefault(); set(f, theirs); other.delete(key); p.remove(); f.focus(); });
  p.append('saved in the other tab: ', b, ' ', take);
  f.after(p);
}

const LOOK = 2500; // ms between two looks whether another tab changed the plan
let held = false; // while something is dragged
addEventListener('pointerdown', () => { held = true; });
for (const end of ['pointerup', 'pointercancel', 'dragend']) addEventListener(end, () => { held = false; });

/** Shows a plan anew when another tab changed it. */
async function look() {
  const { plan, revision } = bench().dataset;
  if (!plan || document.hidden || held || waiting) return;
  const answer = await fetch(`/plans/${plan}/revision`).catch(() => null);
  if (!answer?.ok) return; // the next change tells what is wrong
  const newest = await answer.text();
  if (waiting || held || newest === revision || bench().dataset.revision !== revision || bench().dataset.plan !== plan) return;
  await show(bench().dataset.path);
  hint('This plan was changed in another tab. The page now shows it.');
}
setInterval(look, LOOK);
document.addEventListener('visibilitychange', look);

// What an element is, for telling which old one a new one takes the place of.
function firstClass(n) {
  const all = n.nodeType === Node.ELEMENT_NODE ? n.getAttribute('class') ?? '' : '';
  const end = all.indexOf(' ');
  return end < 0 ? all : all.slice(0, end);
}
const alike = (a, b) => a.nodeName === b.nodeName && a.id === b.id && firstClass(a) === firstClass(b);

// Makes one element like another by the fewest changes: what is the same stays
// as it is, so the browser lays out and paints only what changed.
function become(old, fresh) {
  if (fresh.dataset.key && fresh.dataset.key !== old.dataset.key) { // all of it is other
    old.replaceWith(fresh);
    return;
  }
  for (const name of old.getAttributeNames()) {
    if (!fresh.hasAttribute(name) && !(name === 'open' && old.nodeName === 'DETAILS')) old.removeAttribute(name);
  }
  for (const name of fresh.getAttributeNames()) {
    const value = fresh.getAttribute(name);
    if (old.getAttribute(name) !== value) old.setAttribute(name, value);
  }
  if (fresh.hasAttribute('data-same')) return; // its branch stays as it is
  let at = old.firstChild;
  for (let next = fresh.firstChild, following; next; next = following) {
    following = next.nextSibling; // next itself may move over
    if (at?.isEqualNode(next)) { at = at.nextSibling; continue; }
    let match = at;
    while (match && !alike(match, next)) match = match.nextSibling;
    if (!match) {
      old.insertBefore(next, at);
      continue;
    }
    while (at !== match) { const gone = at; at = at.nextSibling; gone.remove(); }
    at = match.nextSibling;
    if (match.isEqualNode(next)) continue;
    if (match.nodeType === Node.ELEMENT_NODE) become(match, next);
    else match.nodeValue = next.nodeValue;
  }
  while (at) { const gone = at; at = at.nextSibling; gone.remove(); }
}
