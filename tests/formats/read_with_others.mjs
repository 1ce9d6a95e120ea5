// What two other programs make of a .glb file: the format's validator, and three's loader.
// Run from frontend/, for its packages: node read_with_others.mjs FILE SECONDS…
import { readFileSync } from "node:fs";
import { createRequire } from "node:module";
import path from "node:path";
import { pathToFileURL } from "node:url";

const require = createRequire(path.resolve("package.json"));
const from = (file) => import(pathToFileURL(path.resolve("node_modules/three", file)).href);
const [file, ...seconds] = process.argv.slice(2);
const data = new Uint8Array(readFileSync(file));
const validator = require("gltf-validator");
const { issues } = await validator.validateBytes(data);
const three = await from("build/three.module.js");
const { GLTFLoader } = await from("examples/jsm/loaders/GLTFLoader.js");
globalThis.self = globalThis;
const loaded = await new Promise((done, failed) => {
  new GLTFLoader().parse(data.buffer.slice(data.byteOffset, data.byteOffset + data.byteLength), "", done, failed);
});
const mixer = new three.AnimationMixer(loaded.scene);
if (loaded.animations.length) mixer.clipAction(loaded.animations[0]).setLoop(three.LoopOnce).play().clampWhenFinished = true;
const worlds = seconds.map((time) => {
  mixer.setTime(Number(time));
  loaded.scene.updateMatrixWorld(true);
  const found = {};
  loaded.scene.traverse((node) => {
    const { name } = loaded.parser.json.nodes[loaded.parser.associations.get(node)?.nodes] ?? {};
    if (name !== undefined) found[name] = node.matrixWorld.toArray();
  });
  return found;
});
const points = [];
loaded.scene.traverse((node) => {
  if (!node.isSkinnedMesh) return;
  mixer.setTime(Number(seconds.at(-1) ?? 0));
  loaded.scene.updateMatrixWorld(true);
  node.skeleton.update();
  const at = new three.Vector3();
  const count = node.geometry.attributes.position.count;
  points.push(Array.from({ length: count }, (_, n) => node.localToWorld(node.getVertexPosition(n, at)).toArray()));
});
process.stdout.write(JSON.stringify({ issues, worlds, points, animations: loaded.animations.length }));
