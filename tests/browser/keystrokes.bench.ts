// What a keystroke costs in the real browser on the real server; run by bench/run, which prints one JSON line from it.
import { randomUUID } from "node:crypto";
import type { Page } from "@playwright/test";
import { clickAt, openAt, proofOf, settled } from "./desk";
import { generated, median, report } from "./measuring";
import { expect, test, type KivrenServer } from "./server";

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

/** A generated manual on the shelf, with chapters of so many pages. */
const longManual = (server: KivrenServer, pages: number, chapter: number) =>
  server.openPackage(
    generated(
      "long.kivren",
      "--pages",
      pages,
      "--chapter-pages",
      chapter,
      "--seed",
      1,
    ).file,
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
  const manual = await longManual(server, 230, 115);
  const long = (await proofOf(server, manual)).divisions.find(
    (d) => d.kind === "Chapter",
  )!;
  report("pages of that division", long.pages);
  await openAt(page, server, manual, long.title);
  await clickAt(page, 0.4);
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

test("a division of 300 pages, with a second writer typing in it", async ({
  page,
  server,
}) => {
  const manual = await longManual(server, 640, 320);
  const long = (await proofOf(server, manual)).divisions.find(
    (d) => d.kind === "Chapter",
  )!;
  report("pages of the long division", long.pages);
  await openAt(page, server, manual, long.title);
  await clickAt(page, 0.3);
  await settled(page);
  await watch(page);
  let typing = true;
  // The second writer's own browser would be on another machine: here only what it sends.
  const other = (async () => {
    const id = randomUUID().replaceAll("-", "");
    let version = 0;
    for (let text = "k"; typing; text += text.length % 6 === 5 ? " " : "k") {
      const answer = await server.post<{ accepted: { version: number }[] }>(
        `/manuals/${manual}/batches`,
        {
          id: randomUUID(),
          writer: "second",
          label: "Typing",
          joined: null,
          divisions: null,
          blocks: [
            {
              id,
              division: long.id,
              basedOn: version,
              body: JSON.stringify({
                type: "paragraph",
                attrs: { id },
                content: [{ type: "text", text }],
              }),
              after: version === 0 ? "" : null,
              deleted: false,
            },
          ],
        },
      );
      version = answer.accepted[0]!.version;
      await page.waitForTimeout(180);
    }
  })();
  for (let n = 0; n < 40; n++) {
    await page.keyboard.press(n % 6 === 5 ? " " : "m", { delay: 60 });
    await page.waitForTimeout(240);
  }
  typing = false;
  await other;
  await settled(page);
  const keys = (await keysOf(page)).slice(5);
  report(
    "keystroke to paint in a division of 300 pages",
    median(keys.map((k) => k.paint)),
  );
  report(
    "keystroke to new proof in a division of 300 pages",
    median(keys.map((k) => k.proof).filter((p) => p > 0)),
  );
});

test("finding and replacing in 1,000 pages", async ({ page, server }) => {
  const manual = await longManual(server, 1030, 60);
  const { pageCount, divisions } = await proofOf(server, manual);
  report("pages that are looked through", pageCount);
  const looking = (words: string) => ({
    words,
    wholeWords: true,
    sameCase: false,
    pattern: false,
    division: null,
  });
  const times: number[] = [];
  let places = 0;
  for (const words of ["sheave", "lever", "winch", "crossing", "brake"]) {
    const started = performance.now();
    const found = await server.post<{ total: number }>(
      `/manuals/${manual}/find`,
      looking(words),
    );
    times.push(performance.now() - started);
    places = Math.max(places, found.total);
  }
  report("found in 1,000 pages, median", median(times));
  await openAt(
    page,
    server,
    manual,
    divisions.find((d) => d.kind === "Chapter")!.title,
  );
  await settled(page);
  // A word that stands in some 800 places.
  const words = ["pawl", "sheave", "lever", "gauge", "winch", "bollard"];
  const counts = await Promise.all(
    words.map((w) =>
      server.post<{ total: number }>(`/manuals/${manual}/find`, looking(w)),
    ),
  );
  const at = counts
    .map((c, i) => ({
      i,
      off: c.total > 0 ? Math.abs(c.total - 800) : Number.MAX_VALUE,
    }))
    .sort((a, b) => a.off - b.off)[0]!.i;
  report("places that are replaced", counts[at]!.total);
  const started = performance.now();
  await server.post(`/manuals/${manual}/replace`, {
    id: crypto.randomUUID(),
    writer: "bench",
    looking: looking(words[at]!),
    with: "kelvet",
    chosen: null,
  });
  await expect(page.locator(".manuscript")).toContainText("kelvet");
  await settled(page);
  report("replaced, to settled pages", performance.now() - started);
});

test("typing in a table of 100 rows and 8 columns", async ({
  page,
  server,
}) => {
  const { id } = await server.post<{ id: string }>("/manuals", {
    title: "Large table",
  });
  await openAt(page, server, id, "First chapter");
  await page.locator(".manuscript").focus();
  await page.keyboard.press("Control+;");
  await page.keyboard.press("t");
  await page.keyboard.type("8 x 100");
  await page.keyboard.press("Enter");
  await page.locator(".manuscript td").nth(404).click();
  await settled(page);
  await page.evaluate(() => {
    const frames: number[] = [];
    (window as unknown as { frames: number[] }).frames = frames;
    let last = performance.now();
    const next = (now: number) => {
      frames.push(now - last);
      last = now;
      requestAnimationFrame(next);
    };
    requestAnimationFrame(next);
  });
  await watch(page);
  for (let n = 0; n < 60; n++)
    await page.keyboard.press(n % 6 === 5 ? " " : "m", { delay: 90 });
  const frames = await page.evaluate(
    () => (window as unknown as { frames: number[] }).frames,
  );
  await settled(page);
  const keys = (await keysOf(page)).slice(5);
  report(
    "keystroke to paint in a table of 100 × 8",
    median(keys.map((k) => k.paint)),
  );
  report(
    "frames over 50 ms while typing there, of a hundred",
    (frames.slice(5).filter((f) => f > 50).length / frames.length) * 100,
  );
});
