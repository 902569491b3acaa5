// afterAnswer does something once when all pieces of an answer are in their places; later says
// when exactly: at once, or in a moment, behind what scripts do to the pieces.
export function afterAnswer(act, later = queueMicrotask) {
  let due = false;
  const soon = () => {
    if (!due) {
      due = true;
      later(() => {
        due = false;
        act();
      });
    }
  };
  for (const kind of ['htmx:afterSettle', 'htmx:oobAfterSwap']) document.addEventListener(kind, soon);
}
