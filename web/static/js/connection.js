// A lost connection says so, and what was sent into the void is sent again, in its
// order, as soon as Mivlet answers. Nothing that was done is lost.
import { tell } from './notice.js';
import { reason } from './refused.js';
import { resend } from './resend.js';
import { own } from './own.js';

const waiting = [];
let asking = false;

document.addEventListener('htmx:sendError', (e) => {
  if (e.detail.requestConfig.verb !== 'get') waiting.push(e.detail.requestConfig);
  tell(
    'bad',
    'Mivlet does not answer.',
    waiting.length
      ? 'What you did is kept here and is sent again as soon as it answers.'
      : 'What you did is kept here: try again when it is back.',
  );
  if (waiting.length && !asking) ask();
});

async function ask() {
  asking = true;
  for (;;) {
    await new Promise((again) => setTimeout(again, 1500));
    const res = await fetch(own('/arrivals/count'), { headers: { 'HX-Request': 'true' } }).catch(() => null);
    if (res) break;
  }
  asking = false;
  const all = waiting.splice(0),
    refused = [];
  const note = (e) => refused.push(reason(e.detail.xhr.responseText));
  document.addEventListener('htmx:responseError', note);
  for (const request of all) await resend(request, 'none').catch(() => {});
  document.removeEventListener('htmx:responseError', note);
  if (refused.length) tell('bad', 'Mivlet answers again, and refused some of what you did:', refused.join(' '));
  else if (!waiting.length) tell('', 'Mivlet answers again,', 'and has all that you did.');
}

// Who leaves while something waits is asked.
addEventListener('beforeunload', (e) => {
  if (waiting.length) e.preventDefault();
});
