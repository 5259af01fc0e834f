// Measures pages with Lighthouse as on a phone with a slow line: `make lighthouse`.
// Reads [{name, url, cookie}] and writes what each page scores, as JSON.
import { launch } from "chrome-launcher";
import lighthouse from "lighthouse";

const categories = ["performance", "accessibility", "best-practices", "seo"];
const flags = ["--headless", "--no-sandbox", "--disable-gpu", "--disable-quic", "--disable-background-networking"];

let input = "";
for await (const chunk of process.stdin) input += chunk;
const chrome = await launch({ chromePath: process.env.CHROME_PATH || "/usr/bin/chromium", chromeFlags: flags });
const measured = [];
for (const { name, url, cookie } of JSON.parse(input)) {
  const extraHeaders = cookie ? { Cookie: cookie } : {};
  const measure = () => lighthouse(url, { port: chrome.port, onlyCategories: categories, extraHeaders });
  let { lhr } = await measure();
  if (lhr.categories.performance.score === null) ({ lhr } = await measure()); // now and then it sees no paint
  const number = (audit) => lhr.audits[audit]?.numericValue ?? 0;
  measured.push({
    name,
    scores: categories.map((c) => Math.round(100 * (lhr.categories[c].score ?? 0))),
    lcp: number("largest-contentful-paint"),
    blocked: number("total-blocking-time"),
    shift: number("cumulative-layout-shift"),
    failing: Object.values(lhr.audits)
      .filter((a) => a.score === 0 && a.scoreDisplayMode === "binary")
      .map((a) => a.id),
  });
}
process.stdout.write(JSON.stringify(measured));
await chrome.kill();
