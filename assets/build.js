// Builds public/built from assets/: styles compiled and minified, scripts bundled and minified, each file named by its
// content and compressed beside it. `npm run build`; what it makes is committed, so that bin/start needs no node.

import { createHash } from "node:crypto";
import fs from "node:fs";
import path from "node:path";
import zlib from "node:zlib";
import * as esbuild from "esbuild";
import * as sass from "sass";

const ROOT = path.resolve(import.meta.dirname, "..");
const OUT = path.join(ROOT, "public", "built");
const at = (...parts) => path.join(ROOT, ...parts);

const style = (name) => {
  const options = { loadPaths: [at("node_modules"), at("assets", "styles")], style: "compressed", quietDeps: true };
  const { css } = sass.compile(at("assets", "styles", `${name}.scss`), options);
  return esbuild.transformSync(css, { loader: "css", minify: true, target: "chrome109" }).code;
};

const script = (name) =>
  esbuild.buildSync({
    entryPoints: [at("assets", "scripts", `${name}.js`)],
    bundle: true,
    minify: true,
    format: "iife",
    target: "es2020",
    write: false,
  }).outputFiles[0].text;

const FILES = {
  "handrail.css": () => style("handrail"),
  "print.css": () => style("print"),
  "handrail.js": () => script("handrail"),
  "print.js": () => script("print"),
  "apart.js": () => script("apart"),
  "worker.js": () => script("worker"),
  "htmx.js": () => fs.readFileSync(at("node_modules", "htmx.org", "dist", "htmx.min.js"), "utf8"),
  "mark.svg": () => fs.readFileSync(at("assets", "mark.svg"), "utf8"),
};

// one digest of all that the files are made of, so that a check without node can tell whether they are current
export function sourceDigest() {
  const digest = createHash("sha256");
  const files = fs
    .readdirSync(at("assets"), { recursive: true })
    .map((name) => path.join("assets", name))
    .filter((name) => fs.statSync(at(name)).isFile())
    .concat("package-lock.json")
    .sort();
  files.forEach((name) => digest.update(name).update("\0").update(fs.readFileSync(at(name))));
  return digest.digest("hex");
}

function write(name, text) {
  const hash = createHash("sha256").update(text).digest("hex").slice(0, 12);
  const file = name.replace(/\.(\w+)$/, `-${hash}.$1`);
  const bytes = Buffer.from(text);
  fs.writeFileSync(path.join(OUT, file), bytes);
  fs.writeFileSync(path.join(OUT, `${file}.gz`), zlib.gzipSync(bytes, { level: 9 }));
  fs.writeFileSync(path.join(OUT, `${file}.br`), zlib.brotliCompressSync(bytes));
  return file;
}

fs.rmSync(OUT, { recursive: true, force: true });
fs.mkdirSync(OUT, { recursive: true });
const files = Object.fromEntries(Object.entries(FILES).map(([name, make]) => [name, write(name, make())]));
fs.writeFileSync(path.join(OUT, "manifest.json"), `${JSON.stringify({ sources: sourceDigest(), files }, null, 2)}\n`);
fs.copyFileSync(at("node_modules", "bulma", "LICENSE"), path.join(OUT, "LICENSE-bulma"));
fs.copyFileSync(at("node_modules", "htmx.org", "LICENSE"), path.join(OUT, "LICENSE-htmx"));
fs.copyFileSync(at("node_modules", "idb", "LICENSE"), path.join(OUT, "LICENSE-idb"));
fs.copyFileSync(at("node_modules", "@noble", "ciphers", "LICENSE"), path.join(OUT, "LICENSE-ciphers"));
