// Builds dorvan/static/build from assets/ and writes down what it was built from.
import { execFileSync } from "node:child_process";
import { createHash } from "node:crypto";
import { copyFileSync, mkdirSync, readdirSync, readFileSync, rmSync, statSync, writeFileSync } from "node:fs";
import { build } from "esbuild";

const out = "dorvan/static/build";
rmSync(out, { recursive: true, force: true });
mkdirSync(`${out}/fonts`, { recursive: true });
for (const entry of ["app", "folded"]) {
  await build({ entryPoints: [`assets/js/${entry}.js`], bundle: true, minify: true, format: "iife", target: "es2022", legalComments: "none", outfile: `${out}/${entry}.js` });
}
execFileSync("node_modules/.bin/tailwindcss", ["-i", "assets/css/app.css", "-o", `${out}/app.css`, "--minify"], { stdio: "inherit" });
for (const weight of [400, 700]) copyFileSync(`node_modules/@fontsource/b612/files/b612-latin-${weight}-normal.woff2`, `${out}/fonts/b612-latin-${weight}-normal.woff2`);
copyFileSync("node_modules/@fontsource/b612/LICENSE", `${out}/fonts/LICENSE`);
for (const file of ["mark.svg", "manifest.webmanifest", "icon-180.png", "icon-512.png"]) copyFileSync(`assets/${file}`, `${out}/${file}`);

const digest = (files) => {
  const hash = createHash("sha256");
  for (const file of [...files].sort()) { hash.update(file); hash.update(readFileSync(file)); }
  return hash.digest("hex");
};
const under = (root) => readdirSync(root, { recursive: true }).map((name) => `${root}/${name}`).filter((path) => statSync(path).isFile());
// The same lists are made in tests/web/test_access.py.
const sources = [...under("assets"), ...under("dorvan").filter((path) => path.endsWith(".html")), "package-lock.json"];
const built = under(out);
writeFileSync(`${out}/built.json`, `${JSON.stringify({ sources: digest(sources), built: digest(built) }, null, 1)}\n`);
