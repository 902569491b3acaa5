import { say } from './say.js';

// The notice line, for what a script has to tell: the first words stand out, and what
// can be done about it stands beside them.
export function tell(cls, strong, text, button) {
  const notice = document.getElementById('notice'),
    p = document.createElement('p');
  say(`${strong} ${text}`);
  p.append(Object.assign(document.createElement('strong'), { textContent: strong }), ` ${text}`);
  const close = Object.assign(document.createElement('button'), {
    type: 'button',
    className: 'quiet',
    textContent: 'Close',
  });
  close.dataset.close = '';
  notice.className = `notice ${cls}`;
  notice.replaceChildren(p, ...(button ? [button] : []), close);
}
