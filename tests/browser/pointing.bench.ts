// What points at pages, in a long manual with thousands of entries and references; run by bench/run.
import { execFileSync } from "node:child_process";
import { randomUUID } from "node:crypto";
import { appendFileSync, mkdtempSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { expect, test, type Page } from "@playwright/test";
import { proofOf } from "./desk";
import { KivrenServer, root } from "./server";

const report = (name: string, value: number) =>
  appendFileSync(
    process.env.KIVREN_BENCH_REPORT!,
    JSON.stringify({ name, value: Math.round(value) }) + "\n",
  );
const median = (times: number[]) =>
  [...times].sort((a, b) => a - b)[Math.floor(times.length / 2)]!;

interface Row {
  text: string;
  depth: number;
  locators: string;
}

/** Milliseconds from an act until something holds in the page, looked at with each frame; both are script. */
const until = (page: Page, act: string, holds: string) =>
  page.evaluate<number>(`new Promise((done, failed) => {
    const begun = performance.now();
    ${act};
    const look = () => {
      if (${holds}) done(performance.now() - begun);
      else if (performance.now() - begun > 30000) failed(new Error('it never held'));
      else requestAnimationFrame(look);
    };
    look();
  })`);

test("lists of 10,000 entries and 3,000 references", async ({ page }) => {
  test.setTimeout(420_000);
  const server = new KivrenServer();
  await server.start();
  const file = join(mkdtempSync(join(tmpdir(), "kivren-")), "made.kivren");
  const made = execFileSync("dotnet", [
    join(root, "src/Kivren.Cli/bin/Release/net10.0/kivren.dll"),
    ...["generate", "--pages", "1000", "--pointing", "5", "--seed", "7"],
    ...["-o", file],
  ]).toString();
  report(
    "index entries of the pointing manual",
    Number(/(\d+) indexEntries/.exec(made)![1]),
  );
  report(
    "references of the pointing manual",
    Number(/(\d+) references/.exec(made)![1]),
  );
  const manual = await server.openPackage(file);
  report(
    "pages of the pointing manual",
    (await proofOf(server, manual)).pageCount,
  );

  // Each list from another view, as a writer opens it: to its first row on the screen.
  await page.goto(`${server.url}/#/${manual}/plan`);
  await expect(page.getByRole("treeitem").first()).toBeVisible({
    timeout: 60_000,
  });
  const views = [
    ["index", "Headings of the index"],
    ["references", "References"],
  ] as const;
  for (const [view, list] of views) {
    const row = `document.querySelector('[role=listbox][aria-label="${list}"] [role=option]')`;
    const times = [];
    for (let n = 0; n < 6; n++) {
      times.push(
        await until(page, `location.hash = '#/${manual}/${view}'`, row),
      );
      await until(
        page,
        `location.hash = '#/${manual}/plan'`,
        `!${row} && document.querySelector('[role=treeitem]')`,
      );
    }
    report(`${view} opens`, median(times.slice(1)));
  }
  const contents = [];
  for (let n = 0; n < 6; n++) {
    contents.push(
      await until(
        page,
        `location.hash = '#/${manual}/contents'`,
        `document.querySelector('.level')`,
      ),
    );
    await until(
      page,
      `location.hash = '#/${manual}/plan'`,
      `document.querySelector('[role=treeitem]')`,
    );
  }
  report("contents opens", median(contents.slice(1)));

  // Filtering, a letter at a time.
  await page.goto(`${server.url}/#/${manual}/references`);
  const filter = page.getByLabel("Filter", { exact: true });
  await expect(filter).toBeVisible({ timeout: 30_000 });
  const letters = [];
  for (const words of ["c", "ca", "cab", "cabl"]) {
    letters.push(
      await page.evaluate(async (words) => {
        const field = document.querySelector<HTMLInputElement>(
          "input[aria-label=Filter]",
        )!;
        const begun = performance.now();
        field.value = words;
        field.dispatchEvent(new Event("input", { bubbles: true }));
        await new Promise((done) =>
          requestAnimationFrame(() => setTimeout(done)),
        );
        return performance.now() - begun;
      }, words),
    );
  }
  report("filter of 3,000 references, a letter, slowest", Math.max(...letters));

  // A sweep of a word that stands in at least 500 places.
  const rows = (await server.get<{ rows: Row[] }>(`/manuals/${manual}/index`))
    .rows;
  let swept = { total: 0, time: 0 };
  for (const { text } of rows.filter((r) => r.depth === 0)) {
    const times = [];
    let total = 0;
    for (let n = 0; n < 3; n++) {
      const begun = performance.now();
      total = (
        await server.post<{ total: number }>(`/manuals/${manual}/index/sweep`, {
          phrase: text,
          forms: [text],
          heading: [text],
        })
      ).total;
      times.push(performance.now() - begun);
    }
    if (total >= 500) {
      swept = { total, time: median(times) };
      break;
    }
  }
  report("places of the sweep", swept.total);
  report("sweep", swept.time);

  // A heading with at least 400 locators is renamed: until the pages with it are there.
  const crowded = rows
    .filter((r) => r.depth === 0)
    .map((r) => ({ text: r.text, count: r.locators.split(",").length }))
    .sort((a, b) => b.count - a.count)[0]!;
  report("locators of the renamed heading", crowded.count);
  const act = (from: string, to: string) =>
    server.post<{ act: number; refused: string | null }>(
      `/manuals/${manual}/index/acts`,
      {
        id: randomUUID(),
        writer: "bench",
        do: "move",
        heading: [from],
        to: [to],
        entries: null,
        text: null,
        forms: null,
        places: null,
      },
    );
  const times = [];
  let name = crowded.text;
  for (let n = 0; n < 5; n++) {
    const begun = performance.now();
    const to = `${crowded.text} ${n}`;
    const { act: done } = await act(name, to);
    name = to;
    while (
      (await server.get<{ act: number }>(`/manuals/${manual}/proof?short=1`))
        .act < done
    );
    times.push(performance.now() - begun);
  }
  report("heading renamed, to settled pages", median(times));

  // The printed index in the middle of the view follows.
  await page.goto(`${server.url}/#/${manual}/index`);
  await expect(
    page
      .getByRole("region", { name: "The index as printed" })
      .locator("svg")
      .first(),
  ).toBeVisible({ timeout: 30_000 });
  const small = rows.find(
    (r) => r.depth === 0 && r.text !== crowded.text && r.locators !== "",
  )!;
  const follows = [];
  let now = small.text;
  for (let n = 0; n < 5; n++) {
    const to = `0${small.text} ${n}`;
    const [time] = await Promise.all([
      until(
        page,
        "",
        `document.querySelector('[aria-label="The index as printed"]').textContent.replace(/\\s/g, '').includes(${JSON.stringify(to.replaceAll(" ", ""))})`,
      ),
      act(now, to),
    ]);
    follows.push(time);
    now = to;
  }
  report("printed index follows an act", median(follows));
  await server.kill();
});
