// Has a page stand still without its pictures, which keep their places, and tells how tall it is and where they are.
(async () => {
  const style = document.createElement('style');
  style.textContent = `
    img, picture, video, object, embed, canvas, iframe, input[type=image] { visibility: hidden !important }
    *, ::before, ::after, ::marker {
      background-image: none !important; list-style-image: none !important; border-image: none !important;
      animation: none !important; transition: none !important; caret-color: transparent !important }`;
  document.documentElement.append(style);
  const pictures = [...document.images];
  for (const i of pictures) i.loading = 'eager';
  const begun = performance.now();
  while (!pictures.every((i) => i.complete) && performance.now() - begun < 15_000)
    await new Promise((go) => setTimeout(go, 20));
  await document.fonts.ready;
  scrollTo(0, 0);
  const root = document.documentElement;
  return {
    height: Math.max(root.scrollHeight, document.body?.scrollHeight ?? 0),
    pictures: pictures.map((i) => {
      const box = i.getBoundingClientRect();
      return [box.left, box.top, box.right, box.bottom];
    }),
  };
})();
