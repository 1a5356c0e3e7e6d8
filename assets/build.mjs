// Builds the styles in levelmoor/web/static, and puts the fonts, htmx and idb there; the scripts are served as they stand.
// Run by hand after a change: npm ci && npm run build.
// What it builds is committed, so that running Levelmoor, and changing a template, needs no Node; built.json says what
// it was built from.
import { execFileSync } from "node:child_process";
import { createHash } from "node:crypto";
import { copyFileSync, mkdirSync, readFileSync, readdirSync, writeFileSync } from "node:fs";
import { dirname, join, relative } from "node:path";
import { fileURLToPath } from "node:url";

const here = dirname(fileURLToPath(import.meta.url));
const root = dirname(here);
const out = join(root, "levelmoor", "web", "static");
const font = join(here, "node_modules", "@fontsource-variable", "source-sans-3");

mkdirSync(join(out, "fonts"), { recursive: true });
for (const subset of ["latin", "latin-ext", "greek"]) {
  copyFileSync(join(font, "files", `source-sans-3-${subset}-wght-normal.woff2`), join(out, "fonts", `source-sans-3-${subset}.woff2`));
}
copyFileSync(join(font, "LICENSE"), join(out, "fonts", "LICENSE"));
copyFileSync(join(here, "node_modules", "htmx.org", "dist", "htmx.min.js"), join(out, "htmx.min.js"));
copyFileSync(join(here, "node_modules", "idb", "build", "index.js"), join(out, "idb.js"));
execFileSync(join(here, "node_modules", ".bin", "tailwindcss"), ["-i", join(here, "css", "app.css"), "-o", join(out, "app.css"), "--minify"], {
  cwd: here,
  stdio: ["ignore", "ignore", "inherit"],
});

// The same list in tests/web/test_built_assets.py: everything the built files depend on.
function sources(folder, wanted) {
  return readdirSync(folder, { withFileTypes: true, recursive: true })
    .filter((entry) => entry.isFile() && wanted.test(entry.name) && !entry.parentPath.includes("node_modules"))
    .map((entry) => join(entry.parentPath, entry.name));
}
const files = [
  ...sources(here, /\.(css|mjs|json)$/),
  join(root, "levelmoor", "figures", "figure.css"),
].map((file) => relative(root, file).split("\\").join("/")).sort();
const digest = createHash("sha256");
for (const file of files) {
  digest.update(`${file}\0${createHash("sha256").update(readFileSync(join(root, file))).digest("hex")}\n`);
}
writeFileSync(join(out, "built.json"), JSON.stringify({ sources: digest.digest("hex") }) + "\n");
