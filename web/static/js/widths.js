// Three widths: the panes move together, and show what somebody changes at once.
import { own } from './own.js';

const frames = () => [...document.querySelectorAll('.pane iframe')];
let leading = null;
for (const f of frames())
  f.addEventListener('load', () => {
    const w = f.contentWindow;
    w.addEventListener('scroll', () => {
      if (leading && leading !== w) return;
      leading = w;
      const share = w.scrollY / Math.max(1, w.document.documentElement.scrollHeight - w.innerHeight);
      for (const o of frames())
        if (o.contentWindow !== w)
          o.contentWindow.scrollTo(
            0,
            share * (o.contentDocument.documentElement.scrollHeight - o.contentWindow.innerHeight),
          );
      clearTimeout(leading.rest);
      leading.rest = setTimeout(() => {
        leading = null;
      }, 150);
    });
  });

const line = new EventSource(own(`/pages/${document.getElementById('widths').dataset.id}/here`));
let version = null;
line.addEventListener('state', (e) => {
  if (version !== null && version !== e.data) location.reload();
  version = e.data;
});
addEventListener('pagehide', () => line.close());
