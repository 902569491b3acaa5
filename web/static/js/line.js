// What others do, as they do it: events that the server sends while a screen is open.
// htmx's own extension keeps the line open and opens it again.
// hear.events answer them by their names; hear.open and hear.closed are told of the line.
import { own } from './own.js';

export function listen(url, hear) {
  let box = null;
  const open = () => {
    close();
    box = document.createElement('div');
    box.hidden = true;
    for (const [name, value] of [
      ['hx-ext', 'sse'],
      ['sse-connect', own(url)],
      ['sse-swap', Object.keys(hear.events).join(',')],
    ])
      box.setAttribute(name, value);
    box.addEventListener('htmx:sseOpen', () => hear.open?.());
    box.addEventListener('htmx:sseBeforeMessage', (e) => {
      e.preventDefault();
      hear.events[e.detail.type](e.detail.data);
    }); // nothing is swapped in
    document.body.append(box);
    htmx.process(box);
  };
  const close = () => {
    if (box) htmx.remove(box);
    box = null;
  };
  // A tab that nobody sees gives its line back: a browser has few of them.
  document.addEventListener('visibilitychange', () => {
    if (document.hidden) {
      close();
      hear.closed?.();
    } else open();
  });
  addEventListener('pagehide', close);
  open();
}
