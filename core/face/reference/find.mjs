// Runs the small net of the package on raw RGB pixels of a square picture and prints what
// it finds: score, left, top, width and height of each.
// usage: node find.mjs FILE SIDE
import { readFileSync } from 'node:fs';

// The package asks whether it runs in a browser; there it needs nothing of Node's.
globalThis.window = globalThis;
globalThis.document = { createElement: () => ({ getContext: () => null }) };
const at = new URL('node_modules/@vladmandic/face-api/', import.meta.url);
const { tf, nets, TinyFaceDetectorOptions } = await import(new URL('dist/face-api.esm.js', at));

const [file, side] = [process.argv[2], Number(process.argv[3])];
await tf.setBackend('cpu');
await tf.ready();
const [{ weights }] = JSON.parse(readFileSync(new URL('model/tiny_face_detector_model-weights_manifest.json', at)));
const bytes = readFileSync(new URL('model/tiny_face_detector_model.bin', at));
await nets.tinyFaceDetector.loadFromWeightMap(tf.io.decodeWeights(bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.length), weights));
const pixels = tf.tensor3d(new Uint8Array(readFileSync(file)), [side, side, 3], 'int32');
const found = await nets.tinyFaceDetector.locateFaces(pixels, new TinyFaceDetectorOptions({ inputSize: side, scoreThreshold: 0.2 }));
console.log(JSON.stringify(found.map(({ score, box }) => [score, box.x, box.y, box.width, box.height])));
