// What points at pages, in a long manual with thousands of entries and references; run by bench/run.
import { randomUUID } from "node:crypto";
import { expect, test } from "@playwright/test";
import { proofOf } from "./desk";
import { generated, median, report, until } from "./measuring";
import { KivrenServer } from "./server";

interface Row {
  text: string;
  depth: number;
  locators: string;
}

test("lists of 10,000 entries and 3,000 references", async ({ page }) => {
  test.setTimeout(420_000);
  const server = new KivrenServer();
  await server.start();
  const { file, said } = generated(
    "long.kivren",
    ...["--pages", 1000, "--pointing", 5, "--seed", 7],
  );
  report(
    "index entries of the pointing manual",
    Number(/(\d+) indexEntries/.exec(said)![1]),
  );
  report(
    "references of the pointing manual",
    Number(/(\d+) references/.exec(said)![1]),
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

  const act = (from: string[], to: string[]) =>
    server.post<{ act: number; refused: string | null }>(
      `/manuals/${manual}/index/acts`,
      {
        id: randomUUID(),
        writer: "bench",
        do: "move",
        heading: from,
        to,
        entries: null,
        text: null,
        forms: null,
        places: null,
      },
    );
  const renamed = async (from: string, to: string) => {
    const begun = performance.now();
    const { act: done } = await act([from], [to]);
    while (
      (await server.get<{ act: number }>(`/manuals/${manual}/proof?short=1`))
        .act < done
    );
    return performance.now() - begun;
  };

  // A heading with at least 400 locators is renamed, until the pages with it are there. No heading has so many: the most crowded
  // ones are merged for it.
  const count = (r: Row) => (r.locators ? r.locators.split(",").length : 0);
  const crowded = rows
    .filter((r) => r.depth === 0)
    .sort((a, b) => count(b) - count(a));
  const name = crowded[0]!.text;
  const locators = async () =>
    count(
      (await server.get<{ rows: Row[] }>(`/manuals/${manual}/index`)).rows.find(
        (r) => r.depth === 0 && r.text === name,
      )!,
    );
  let merged = 0;
  while ((await locators()) < 400) await renamed(crowded[++merged]!.text, name);
  report("locators of the renamed heading", await locators());
  // A server has done this before: what it runs often is compiled at its best by then.
  const times = [];
  for (let n = 0; n < 16; n++)
    times.push(
      await renamed(n === 0 ? name : `${name} ${n - 1}`, `${name} ${n}`),
    );
  report("heading renamed, to settled pages", median(times.slice(6)));

  // The printed index in the middle of the view follows an act on an ordinary subheading.
  await page.goto(`${server.url}/#/${manual}/index`);
  await expect(
    page
      .getByRole("region", { name: "The index as printed" })
      .locator("svg")
      .first(),
  ).toBeVisible({ timeout: 30_000 });
  const first = rows.findIndex((r) => r.depth === 0);
  const under = rows
    .slice(first + 1, first + 12)
    .filter((r) => r.depth === 1 && count(r) > 0);
  const small = under.sort((a, b) => count(a) - count(b))[0]!;
  const top = rows[first]!.text;
  const follows = [];
  let now = small.text;
  for (let n = 0; n < 12; n++) {
    const to = `${small.text} ${n}`;
    const [time] = await Promise.all([
      until(
        page,
        "",
        `document.querySelector('[aria-label="The index as printed"]').textContent.replace(/\\s/g, '').includes(${JSON.stringify(to.replaceAll(" ", ""))})`,
      ),
      act([top, now], [top, to]),
    ]);
    follows.push(time);
    now = to;
  }
  report("locators of the ordinary subheading", count(small));
  report("printed index follows an act", median(follows.slice(3)));
  await server.kill();
});
