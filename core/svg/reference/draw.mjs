// Draws the file that it is given into so many pixels across, and prints the pixels:
// node draw.mjs FILE WIDTH TYPEFACE...
import { readFileSync } from 'node:fs';
import { Resvg, initWasm } from '@resvg/resvg-wasm';

const [file, width, ...typefaces] = process.argv.slice(2);
await initWasm(readFileSync(new URL('node_modules/@resvg/resvg-wasm/index_bg.wasm', import.meta.url)));
const font = { loadSystemFonts: false, fontBuffers: typefaces.map((f) => readFileSync(f)) };
for (const kind of ['default', 'serif', 'sansSerif', 'cursive', 'fantasy']) font[`${kind}${kind === 'default' ? 'Font' : ''}Family`] = 'Go';
font.monospaceFamily = 'Go Mono';
const drawn = new Resvg(readFileSync(file), { font, fitTo: { mode: 'width', value: Number(width) } }).render();
process.stdout.write(Buffer.from(drawn.pixels));
