// What a keystroke costs in the real browser on the real server; run by bench/run, which prints one JSON line from it.
import { execFileSync } from "node:child_process";
import { appendFileSync, mkdtempSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import type { Page } from "@playwright/test";
import { openAt, proofOf, settled } from "./desk";
import { expect, root, test } from "./server";

const median = (times: number[]) =>
  [...times].sort((a, b) => a - b)[Math.floor(times.length / 2)]!;
const report = (name: string, value: number) =>
  appendFileSync(
    process.env.KIVREN_BENCH_REPORT!,
    JSON.stringify({ name, value: Math.round(value) }) + "\n",
  );

/** From now on each key's times, from the press: until its letter is painted, until another drawing of the page is. */
async function watch(page: Page) {
  await page.evaluate(() => {
    const keys: { paint: number; proof: number }[] = [];
    (window as unknown as { keys: typeof keys }).keys = keys;
    const afterPaint = (then: () => void) =>
      requestAnimationFrame(() => {
        const { port1, port2 } = new MessageChannel();
        port1.onmessage = then;
        port2.postMessage(null);
      });
    let pressed = 0;
    document.addEventListener(
      "keydown",
      (e) => {
        pressed = e.timeStamp;
        const key = { paint: 0, proof: 0 };
        keys.push(key);
        afterPaint(() => (key.paint = performance.now() - e.timeStamp));
      },
      true,
    );
    new MutationObserver((found) => {
      const key = keys.at(-1);
      if (
        !key ||
        key.proof ||
        !found.some((m) =>
          [...m.addedNodes].some(
            (n) =>
              n instanceof Element &&
              (n.matches("svg") || n.querySelector("svg")),
          ),
        )
      )
        return;
      const since = pressed;
      key.proof = -1;
      afterPaint(() => (key.proof = performance.now() - since));
    }).observe(document.querySelector(".proof")!, {
      subtree: true,
      childList: true,
    });
  });
}

const keysOf = (page: Page) =>
  page.evaluate(
    () =>
      (window as unknown as { keys: { paint: number; proof: number }[] }).keys,
  );

test("keystroke to new proof, demo", async ({ page, server }) => {
  const manual = await server.demo();
  await openAt(page, server, manual, "Before the first crossing");
  await page.locator(".manuscript > p").first().click();
  await settled(page);
  await watch(page);
  for (let n = 0; n < 40; n++) {
    await page.keyboard.press("m");
    await expect
      .poll(async () => (await keysOf(page)).at(-1)!.proof, { intervals: [20] })
      .toBeGreaterThan(0);
    await settled(page);
  }
  const keys = (await keysOf(page)).slice(5);
  report(
    "keystroke to new proof on screen, demo",
    median(keys.map((k) => k.proof)),
  );
  report(
    "keystroke to paint, demo, proof open",
    median(keys.map((k) => k.paint)),
  );
});

test("keystroke to paint in a division of 100 pages", async ({
  page,
  server,
}) => {
  const file = join(mkdtempSync(join(tmpdir(), "kivren-")), "long.kivren");
  execFileSync("dotnet", [
    join(root, "src/Kivren.Cli/bin/Release/net10.0/kivren.dll"),
    "generate",
    "--pages",
    "230",
    "--chapter-pages",
    "115",
    "--seed",
    "1",
    "-o",
    file,
  ]);
  const manual = await server.openPackage(file);
  const long = (await proofOf(server, manual)).divisions.find(
    (d) => d.kind === "Chapter",
  )!;
  report("pages of that division", long.pages);
  await openAt(page, server, manual, long.title);
  await page.locator(".manuscript > p").nth(200).click();
  await settled(page);
  await watch(page);
  // As fast as a quick writer types, without waiting for the proof.
  for (let n = 0; n < 60; n++)
    await page.keyboard.press(n % 6 === 5 ? " " : "m", { delay: 110 });
  await settled(page);
  const keys = (await keysOf(page)).slice(5);
  report(
    "keystroke to paint in a division of 100 pages",
    median(keys.map((k) => k.paint)),
  );
  report(
    "the slowest of nine in ten there",
    [...keys.map((k) => k.paint)].sort((a, b) => a - b)[
      Math.floor(keys.length * 0.9)
    ]!,
  );
});
