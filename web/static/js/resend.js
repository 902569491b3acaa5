// Sends a request of htmx's once more. What it came from, or what it draws, may have been
// redrawn meanwhile: then it is looked for by its name, and comes from the page itself.
const now = (el) => (el.isConnected ? el : (el.id && document.getElementById(el.id)) || document.body);

export function resend({ verb, path, parameters, target, elt }, swap) {
  return htmx.ajax(verb.toUpperCase(), path, {
    values: parameters,
    source: now(elt),
    target: now(target),
    swap: elt.getAttribute('hx-swap') ?? swap,
  });
}
