// What two other programs make of .glb files: the format's validator, and three's loader.
// Run from frontend/, for its packages: node read_with_others.mjs FILE SECONDS [FILE SECONDS …]
import { readFileSync } from "node:fs";
import { createRequire } from "node:module";
import path from "node:path";
import { pathToFileURL } from "node:url";

const require = createRequire(path.resolve("package.json"));
const from = (file) => import(pathToFileURL(path.resolve("node_modules/three", file)).href);
const validator = require("gltf-validator");
const three = await from("build/three.module.js");
const { GLTFLoader } = await from("examples/jsm/loaders/GLTFLoader.js");
globalThis.self = globalThis;

async function read(file, seconds) {
  const data = new Uint8Array(readFileSync(file));
  const { issues } = await validator.validateBytes(data);
  const loaded = await new Promise((done, failed) => {
    new GLTFLoader().parse(data.buffer.slice(data.byteOffset, data.byteOffset + data.byteLength), "", done, failed);
  });
  const mixer = new three.AnimationMixer(loaded.scene);
  if (loaded.animations.length) mixer.clipAction(loaded.animations[0]).setLoop(three.LoopOnce).play().clampWhenFinished = true;
  mixer.setTime(seconds);
  loaded.scene.updateMatrixWorld(true);
  const worlds = {};
  loaded.scene.traverse((node) => {
    const { name } = loaded.parser.json.nodes[loaded.parser.associations.get(node)?.nodes] ?? {};
    if (name !== undefined) worlds[name] = node.matrixWorld.toArray();
  });
  const points = [];
  loaded.scene.traverse((node) => {
    if (!node.isSkinnedMesh) return;
    node.skeleton.update();
    const at = new three.Vector3();
    const count = node.geometry.attributes.position.count;
    points.push(Array.from({ length: count }, (_, n) => node.localToWorld(node.getVertexPosition(n, at)).toArray()));
  });
  return { issues, worlds, points };
}

const told = process.argv.slice(2);
const found = [];
for (let n = 0; n < told.length; n += 2) found.push(await read(told[n], Number(told[n + 1])));
process.stdout.write(JSON.stringify(found));
