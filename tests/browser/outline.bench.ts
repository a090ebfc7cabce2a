// What bringing in a long document and planning a long manual cost, in the real browser on the real server; run by
// bench/run.
import type { Page } from "@playwright/test";
import { openPlan, proofOf } from "./desk";
import { generated, median, report } from "./measuring";
import { expect, root, test } from "./server";

test("a word-processor document of 500 pages comes in", async ({
  page,
  server,
}) => {
  const file = generated("long.docx", "--pages", 500, "--seed", 1).file;
  await page.goto(`${server.url}/#/`);
  const [chooser] = await Promise.all([
    page.waitForEvent("filechooser"),
    page.getByRole("button", { name: "Bring in documents…" }).click(),
  ]);
  const began = Date.now();
  await chooser.setFiles(file);
  await expect(page.locator(".proof .page svg")).toBeVisible();
  report(
    "a document of 500 pages on the screen with its proof",
    Date.now() - began,
  );
  const id = /bring-in\/(\w+)/.exec(page.url())![1]!;
  const view = await server.get<{
    milliseconds: number;
    counts: { pages: number };
  }>(`/bring-in/${id}`);
  report("a document of 500 pages read", view.milliseconds);
  report("pages of that document", view.counts.pages);
});

/** Presses keys in the plan and waits until the pages with that act have settled; milliseconds from the press. */
async function settledAfter(page: Page, key: string): Promise<number> {
  await page.evaluate(() => {
    const w = window as unknown as { took: number };
    w.took = 0;
    const settled = document.querySelector("[data-settled]")!;
    const was = settled.getAttribute("data-settled");
    addEventListener(
      "keydown",
      (e) => {
        const pressed = e.timeStamp;
        const watch = new MutationObserver(() => {
          if (settled.getAttribute("data-settled") === was) return;
          watch.disconnect();
          w.took = performance.now() - pressed;
        });
        watch.observe(settled, { attributes: true });
      },
      { once: true, capture: true },
    );
  });
  await page.keyboard.press(key);
  await expect
    .poll(
      () => page.evaluate(() => (window as unknown as { took: number }).took),
      { intervals: [10] },
    )
    .toBeGreaterThan(0);
  await page.waitForTimeout(400); // the screen reads the plan anew; it is not part of what is measured
  return page.evaluate(() => (window as unknown as { took: number }).took);
}

test("a section of 60 pages moves in a manual of 1,000", async ({
  page,
  server,
}) => {
  const manual = await server.openPackage(
    generated(
      "long.kivren",
      "--pages",
      1030,
      "--chapter-pages",
      62,
      "--seed",
      1,
    ).file,
  );
  await openPlan(page, server, manual);
  await page.getByRole("button", { name: "Chapters", exact: true }).click();
  const chapters = (await proofOf(server, manual)).divisions.filter(
    (d) => d.kind === "Chapter",
  );
  const own = chapters[6]!;
  report("pages of the section that moves", own.pages);
  report(
    "pages of the manual that it moves in",
    (await proofOf(server, manual)).pageCount,
  );
  await page.locator(`#row-${own.id}`).click();
  const times: number[] = [];
  for (let n = 0; n < 17; n++)
    times.push(
      await settledAfter(page, n % 2 === 0 ? "Alt+ArrowDown" : "Alt+ArrowUp"),
    );
  report(
    "a chapter of 60 pages moved, to settled pages",
    median(times.slice(4)),
  );
  // As a section of the chapter before it, and out again.
  const nested: number[] = [];
  for (let n = 0; n < 9; n++)
    nested.push(await settledAfter(page, n % 2 === 0 ? "j" : "Shift+Tab"));
  report(
    "60 pages put into a chapter and lifted out, to settled pages",
    median(nested.slice(1)),
  );
});

test("the plan of 5,000 heads scrolls", async ({ page, server }) => {
  const manual = await server.openPackage(
    generated("long.kivren", "--pages", 6400, "--seed", 1).file,
  );
  await openPlan(page, server, manual);
  await page.getByRole("button", { name: "D", exact: true }).click();
  const view = await server.get<{ rows: unknown[] }>(`/manuals/${manual}/plan`);
  report("rows of that plan", view.rows.length);
  const box = (await page.getByRole("tree").boundingBox())!;
  await page.mouse.move(box.x + 300, box.y + 200);
  await page.evaluate(() => {
    const frames: number[] = [];
    (window as unknown as { frames: number[] }).frames = frames;
    let last = performance.now();
    const tick = (now: number) => {
      frames.push(now - last);
      last = now;
      requestAnimationFrame(tick);
    };
    requestAnimationFrame(tick);
  });
  for (let n = 0; n < 120; n++) await page.mouse.wheel(0, 900);
  const frames = await page.evaluate(
    () => (window as unknown as { frames: number[] }).frames,
  );
  report(
    "the plan of 5,000 heads: a frame while scrolling, nine in ten under",
    [...frames].sort((a, b) => a - b)[Math.floor(frames.length * 0.9)]!,
  );
});
