// Mivlet's own addresses begin with the path that it has on its host. This file knows it from where it
// lies itself.
const base = new URL('../../..', import.meta.url).pathname.slice(0, -1);

// own puts that path before an address such as /pages/4.
export const own = (address) => base + address;
