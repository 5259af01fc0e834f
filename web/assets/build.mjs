// Builds what the pages load, into dist/: styles, scripts, fonts and icons.
// The built files are committed, so that running the application needs Go alone.
// With --watch it goes on, and builds again what is saved.
import { execFile } from "node:child_process";
import { createHash } from "node:crypto";
import { copyFileSync, existsSync, mkdirSync, readdirSync, readFileSync, rmSync, watch, writeFileSync } from "node:fs";
import { join } from "node:path";
import { promisify } from "node:util";
import { context } from "esbuild";
import subsetFont from "subset-font";
import { decompress } from "wawoff2";

const here = import.meta.dirname;
const root = join(here, "..", "..");
const dist = join(here, "dist");
rmSync(dist, { recursive: true, force: true });
mkdirSync(dist);

const scripts = await context({
  entryPoints: ["studio", "player", "embed", "develop"].map((name) => join(here, `src/${name}.js`)),
  outdir: dist,
  bundle: true,
  minify: true,
  format: "iife",
  target: "es2022",
  legalComments: "none",
  logLevel: "warning",
});

const faces = join(root, "node_modules/@fontsource-variable");
const worn = [
  "commissioner",
  "literata",
  "atkinson-hyperlegible-next",
  "fraunces",
  "bricolage-grotesque",
  "shantell-sans",
];

// The letters and weights that pages use, in files that a page asks for as its words need them
// (web/player/typefaces.go): a slow line waits for nothing else.
const letters = JSON.parse(readFileSync(join(here, "letters.json"), "utf8"));
const packedIn = { basic: "latin" }; // where a file of ours is part of one that ships
const packed = (face, part) => join(faces, face, `files/${face}-${packedIn[part] ?? part}-wght-normal.woff2`);

// What a typeface has letters for; scripts that it lacks are taken from another (core/look).
const written = worn.flatMap((face) =>
  letters.filter(({ part }) => existsSync(packed(face, part))).map((lettering) => ({ face, ...lettering })),
);

// What sets marks on letters, lines up figures, and draws letters together in pairs or as one;
// but for what is much of a file and not missed: the pairs of a handwriting are a third of it.
const features = ["ccmp", "locl", "mark", "mkmk", "tnum", "kern", "liga"];
const spared = {
  commissioner: ["liga"],
  "bricolage-grotesque": ["tnum"],
  "shantell-sans": ["kern", "liga"],
};
const weights = { wght: { min: 400, max: 800 } };

function trimmed({ face, part, ranges }) {
  let text = "";
  for (const range of ranges.join().split(",")) {
    const [from, to = from] = range.slice(2).split("-");
    for (let at = parseInt(from, 16); at <= parseInt(to, 16); at++) text += String.fromCodePoint(at);
  }
  return subsetFont(readFileSync(packed(face, part)), text, {
    targetFormat: "woff2",
    variationAxes: weights,
    keepFeatures: features.filter((feature) => !spared[face]?.includes(feature)),
  });
}

for (const one of written) writeFileSync(join(dist, `${one.face}-${one.part}.woff2`), await trimmed(one));
for (const face of worn) copyFileSync(join(faces, face, "LICENSE"), join(dist, `${face}-license.txt`));

// Pictures that the server draws need their letters unpacked, and those of scripts that are
// written from right to left.
const drawn = join(root, "interchange/postcard/fonts");
rmSync(drawn, { recursive: true, force: true });
mkdirSync(drawn);
for (const { face, part } of [
  ...written.filter(({ part }) => !packedIn[part]),
  { face: "noto-sans-hebrew", part: "hebrew" },
  { face: "noto-sans-arabic", part: "arabic" },
]) {
  writeFileSync(join(drawn, `${face}-${part}.ttf`), await decompress(readFileSync(packed(face, part))));
  copyFileSync(join(faces, face, "LICENSE"), join(drawn, `${face}-license.txt`));
}

async function styles() {
  await Promise.all(["studio", "player"].map(style));
}

// style names the typefaces with their version, as assets.Path does, so that browsers keep them.
async function style(name) {
  const built = join(dist, `${name}.css`);
  const from = ["--input", join(here, `src/${name}.css`), "--output", "-", "--minify"];
  const { stdout } = await promisify(execFile)(join(root, "node_modules/.bin/tailwindcss"), from, {
    cwd: root,
    maxBuffer: 1 << 24,
  });
  writeFileSync(
    built,
    stdout.trim().replace(/\/assets\/([\w-]+\.woff2)/g, (url, font) => `${url}?v=${version(join(dist, font))}`) + "\n",
  );
}

const version = (file) => createHash("sha256").update(readFileSync(file)).digest("hex").slice(0, 12);

await Promise.all([scripts.rebuild(), styles()]);

for (const name of readdirSync(join(here, "src/drawings")))
  copyFileSync(join(here, "src/drawings", name), join(dist, `drawing-${name}`));

// The pictures of the guide are taken of the demo by make shots.
for (const name of readdirSync(join(here, "src/guide")))
  copyFileSync(join(here, "src/guide", name), join(dist, `guide-${name}`));

const icons =
  "arrow-down arrow-up check chevron-down circle-help copy download ellipsis-vertical external-link grip-vertical image link list log-out minus pencil plus redo-2 rotate-cw scale search send settings trash-2 undo-2 wrench x".split(
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

if (process.argv.includes("--watch")) {
  // What is saved within a moment is built once; a mistake is told, and built when it is mended.
  const saved = new Set();
  let soon;
  const note = (_, name) => {
    saved.add(name?.endsWith(".js") ? scripts.rebuild : styles);
    clearTimeout(soon);
    soon = setTimeout(async () => {
      const work = [...saved];
      saved.clear();
      await Promise.all(
        work.map((build) => build().catch((wrong) => console.error(String(wrong.stderr ?? wrong.message)))),
      );
    }, 20);
  };
  watch(join(here, "src"), { recursive: true }, note);
  for (const room of ["studio", "player", "standin", "ui"]) {
    watch(join(root, "web", room), { recursive: true }, (event, name) => name?.endsWith(".html") && note(event, name));
  }
} else await scripts.dispose();
