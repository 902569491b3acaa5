// A free outline without a pointer: arrow keys lead a cross over the picture, Enter sets a corner
// where it is, Backspace takes the last one back, and Enter twice in one place closes the outline.
// Units are pixels of the upright original.
import { H, part, unit, W } from './stage.js';
import { wayOf } from './keys.js';
import { say } from './say.js';
import { isTyping } from './typing.js';

const most = 200; // corners of one outline
let drawn = null; // what the hand has set so far: { at, points, done }

const layer = part('g', { class: 'corners' });
document.getElementById('veils').after(layer);

// begin puts the cross to a spot; done gets the corners when the outline is closed.
export function begin(at, done) {
  drawn = { at, points: [], done };
  draw();
  say('The cross is in the middle of the frame. Enter sets a corner.');
}

// end gives up what was begun.
export function end() {
  drawn = null;
  draw();
}

function draw() {
  layer.replaceChildren();
  if (!drawn) return;
  const u = unit(),
    { at, points } = drawn;
  const all = [...points, at].map((p) => p.join()).join(' ');
  part('polyline', { points: all, class: 'veil chosen' }, layer);
  for (const [x, y] of points) part('circle', { cx: x, cy: y, r: 3 * u, class: 'corner' }, layer);
  const cross = `M${at[0] - 14 * u} ${at[1]}h${28 * u}M${at[0]} ${at[1] - 14 * u}v${28 * u}`;
  part('path', { d: cross, class: 'cross under' }, layer);
  part('path', { d: cross, class: 'cross' }, layer);
}

const place = ([x, y]) => `${Math.round(x)} to the right, ${Math.round(y)} down`;

function set() {
  const { at, points, done } = drawn;
  const last = points.at(-1);
  if (last && last[0] === at[0] && last[1] === at[1]) {
    if (points.length < 3) {
      say('An outline has three corners or more.');
      return;
    }
    end();
    done(points);
    return;
  }
  if (points.length >= most) return;
  points.push([...at]);
  say(`Corner ${points.length}: ${place(at)}.`);
  draw();
}

function lead(e) {
  const [dx, dy] = wayOf(e);
  const step = Math.max(1, Math.round(unit())) * (e.shiftKey ? 10 : 1);
  const keep = (v, most) => Math.min(Math.max(v, 0), most);
  drawn.at = [keep(drawn.at[0] + dx * step, W), keep(drawn.at[1] + dy * step, H)];
  draw();
}

addEventListener(
  'keydown',
  (e) => {
    if (!drawn || isTyping(e.target) || e.altKey || e.ctrlKey || e.metaKey) return;
    if (wayOf(e)) lead(e);
    else if (e.key === 'Enter' && !e.target.closest?.('button, a, summary')) set();
    else if (e.key === 'Backspace') {
      const gone = drawn.points.pop();
      say(gone ? `Corner ${drawn.points.length + 1} is taken back.` : 'There is no corner yet.');
      draw();
    } else return;
    e.preventDefault();
    e.stopImmediatePropagation();
  },
  true,
);
