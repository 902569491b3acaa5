// Answers to acts that overlap can come in another order than what they show was
// read in. What is older than what is shown is not drawn over it.
let shown = 0;

function look(e) {
  const read = Number(e.detail.xhr.getResponseHeader('Mivlet-State'));
  if (!read) return;
  if (read < shown) e.detail.shouldSwap = false;
  else shown = read;
}

// The target itself is listened to: an answer that came meanwhile may have taken it off
// the page, and what happens to it is then heard nowhere else.
document.addEventListener('htmx:beforeSend', (e) => e.detail.target.addEventListener('htmx:beforeSwap', look));
