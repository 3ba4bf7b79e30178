// The wheel: turning the light by dragging, by a frond, or by whole places.

import { bench, change, onBench, show } from './bench.js';
import { keys } from './keys.js';

const PLACES = 12;
const picture = () => document.getElementById('wheel');
const wrap = (n) => ((n % PLACES) + PLACES) % PLACES;

/** Turns the light by whole places, clockwise. */
function turnBy(places) {
  const w = picture();
  if (w) change({ do: 'turn', places: wrap(Number(w.dataset.turnNow) + places) });
}

/** Turns the light to the named place nearest to its own kind of offset. */
function turnTo(frond) {
  const w = picture();
  let by = Number(frond.dataset.place) - Number(w.dataset.leadPlace);
  by = Math.round(by - PLACES * Math.round(by / PLACES));
  if (by) turnBy(by);
}

// Another wheel comes up softly. The whole picture fades as one layer: 120
// leaflets that fade by themselves would be painted anew for every frame.
const FADE = 220; // ms
let shown = null; // the wheel that was shown
function fade() {
  const w = picture();
  const before = shown;
  shown = w?.dataset.wheel;
  if (!before || !shown || before === shown || matchMedia('(prefers-reduced-motion: reduce)').matches) return;
  w.firstElementChild.animate([{ opacity: 0.45 }, { opacity: 1 }], { duration: FADE, easing: 'ease-out' });
}

function startWheel() {
  onBench(fade);
  let drag = null;
  const angle = (e, box) => (Math.atan2(e.clientX - box.x, box.y - e.clientY) * 180) / Math.PI;

  document.addEventListener('pointerdown', (e) => {
    const w = picture();
    if (!w || e.button || !e.target.closest('#wheel svg')) return;
    const svg = w.querySelector('svg');
    const light = svg.querySelector('#light');
    const at = new DOMPoint(Number(light.dataset.cx), Number(light.dataset.cy)).matrixTransform(svg.getScreenCTM());
    drag = { at, from: angle(e, at), turned: 0, start: Number(w.dataset.turnNow), shown: 0, moved: false };
  });
  document.addEventListener('pointermove', (e) => {
    if (!drag) return;
    let d = angle(e, drag.at) - drag.from;
    d -= 360 * Math.round(d / 360);
    if (!drag.moved && Math.abs(d) < 4) return;
    drag.moved = true;
    picture().classList.add('dragging');
    drag.turned = d;
    follow();
    const places = Math.round(d / 30);
    if (places !== drag.shown) {
      // The server says what the next place holds; nothing is saved yet.
      drag.shown = places;
      show(`/plans/${bench().dataset.plan}/wheel?turn=${wrap(drag.start + places)}`);
    }
  });
  // Only the light follows the pointer between two answers.
  function follow() {
    const light = picture()?.querySelector('#light');
    if (!light || !drag) return;
    const answered = Number(picture().dataset.turnNow) - drag.start;
    const off = drag.turned - 30 * (answered - PLACES * Math.round((answered - drag.turned / 30) / PLACES));
    light.setAttribute('transform', `rotate(${off.toFixed(1)} ${light.dataset.cx} ${light.dataset.cy})`);
    picture().classList.toggle('dragging', drag.moved);
  }
  onBench(follow);
  const end = (e) => {
    if (!drag) return;
    const d = drag;
    drag = null;
    picture()?.classList.remove('dragging');
    picture()?.querySelector('#light')?.removeAttribute('transform');
    if (d.moved && e.type === 'pointerup') change({ do: 'turn', places: wrap(d.start + Math.round(d.turned / 30)) });
    else if (d.moved) show(`/plans/${bench().dataset.plan}/wheel`);
    else {
      const f = e.target.closest?.('#wheel .frond');
      if (f) turnTo(f);
    }
  };
  document.addEventListener('pointerup', end);
  document.addEventListener('pointercancel', end);

  document.addEventListener('keydown', (e) => {
    const f = e.target.closest?.('#wheel .frond');
    if (f && (e.key === 'Enter' || e.key === ' ')) { e.preventDefault(); turnTo(f); }
  });
  document.addEventListener('click', (e) => {
    const b = e.target.closest('[data-turn]');
    if (b) turnBy(Number(b.dataset.turn));
  });
}

keys['['] = () => turnBy(-1);
keys[']'] = () => turnBy(1);
startWheel();
