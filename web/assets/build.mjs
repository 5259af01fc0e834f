// Builds what the pages load, into dist/: styles, scripts, fonts and icons.
// The built files are committed, so that running the application needs Go alone.
import { execFileSync } from "node:child_process";
import { createHash } from "node:crypto";
import { copyFileSync, mkdirSync, readdirSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { build } from "esbuild";

const here = import.meta.dirname;
const root = join(here, "..", "..");
const dist = join(here, "dist");
rmSync(dist, { recursive: true, force: true });
mkdirSync(dist);

await build({
  entryPoints: {
    studio: join(here, "src/studio.js"),
    player: join(here, "src/player.js"),
    embed: join(here, "src/embed.js"),
  },
  outdir: dist,
  bundle: true,
  minify: true,
  format: "iife",
  target: "es2022",
  legalComments: "none",
  logLevel: "warning",
});

for (const name of ["studio", "player"]) {
  execFileSync(
    join(root, "node_modules/.bin/tailwindcss"),
    ["--input", join(here, `src/${name}.css`), "--output", join(dist, `${name}.css`), "--minify"],
    { cwd: root, stdio: ["ignore", "ignore", "inherit"] },
  );
}

for (const face of ["commissioner", "literata", "atkinson-hyperlegible-next"]) {
  const fonts = join(root, "node_modules/@fontsource-variable", face);
  for (const part of ["latin", "latin-ext"])
    copyFileSync(join(fonts, `files/${face}-${part}-wght-normal.woff2`), join(dist, `${face}-${part}.woff2`));
  copyFileSync(join(fonts, "LICENSE"), join(dist, `${face}-license.txt`));
}

// Styles name the typefaces with their version, as assets.Path does, so that browsers keep them.
for (const name of ["studio", "player"]) {
  const file = join(dist, `${name}.css`);
  writeFileSync(
    file,
    readFileSync(file, "utf8").replace(
      /\/assets\/([\w-]+\.woff2)/g,
      (url, font) =>
        `${url}?v=${createHash("sha256")
          .update(readFileSync(join(dist, font)))
          .digest("hex")
          .slice(0, 12)}`,
    ),
  );
}

for (const name of readdirSync(join(here, "src/drawings")))
  copyFileSync(join(here, "src/drawings", name), join(dist, `drawing-${name}`));

const icons =
  "arrow-down arrow-up check chevron-down circle-help copy ellipsis-vertical external-link grip-vertical image link list log-out minus pencil plus redo-2 scale trash-2 undo-2 wrench x".split(
    " ",
  );
const symbols = icons.map((name) => {
  const svg = readFileSync(join(root, `node_modules/lucide-static/icons/${name}.svg`), "utf8");
  const inside = svg
    .replace(/<!--.*?-->/gs, "")
    .replace(/^[^<]*<svg[^>]*>/s, "")
    .replace(/<\/svg>\s*$/, "")
    .replace(/\s*\n\s*/g, "");
  return `<symbol id="${name}" viewBox="0 0 24 24" fill="none" stroke="currentColor" stroke-width="1.75" stroke-linecap="round" stroke-linejoin="round">${inside}</symbol>`;
});
writeFileSync(join(dist, "icons.svg"), `<svg xmlns="http://www.w3.org/2000/svg">${symbols.join("")}</svg>\n`);
