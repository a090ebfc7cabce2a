// Another edition chosen in Write, in a long manual: from the choice to its first page on the screen; run by bench/run.
import { test, expect } from "@playwright/test";
import { proofOf } from "./desk";
import { generated, median, report } from "./measuring";
import { KivrenServer } from "./server";

test("another edition is chosen in a manual of a thousand pages", async ({
  page,
}) => {
  test.setTimeout(420_000);
  const server = new KivrenServer();
  await server.start();
  const { file } = generated(
    "editions.kivren",
    ...["--pages", 1000, "--seed", 9],
  );
  const manual = await server.openPackage(file);
  report(
    "pages whose edition is changed",
    (await proofOf(server, manual)).pageCount,
  );
  const edition = {
    chosen: {},
    leavesOut: [],
    takes: [],
    variables: {},
    look: null,
    lookFile: null,
    language: null,
    without: [],
    leftOut: "words",
    goesOutAs: [],
    filesCalled: "",
  };
  for (const name of ["First", "Second"])
    await server.post(`/manuals/${manual}/editions/acts`, {
      id: crypto.randomUUID(),
      writer: "bench",
      do: "put",
      name: null,
      edition: {
        ...edition,
        name,
        without: name === "First" ? [] : ["index"],
      },
      was: null,
    });
  await page.setViewportSize({ width: 1600, height: 900 });
  await page.goto(`${server.url}/#/${manual}`);
  const chosen = page.getByRole("button", { name: /^(First|Second)/ }).first();
  await expect(chosen).toBeVisible({ timeout: 60_000 });
  const times: number[] = [];
  for (let n = 0; n < 8; n++) {
    const other = n % 2 === 0 ? "Second" : "First";
    const counted = () => page.locator("header").innerText();
    const before = await counted();
    const begun = performance.now();
    await server.post(`/manuals/${manual}/editions/proofed`, { name: other });
    await page.waitForFunction(
      (was) => document.querySelector("header")?.innerText !== was,
      before,
    );
    times.push(performance.now() - begun);
    await proofOf(server, manual);
    await expect(page.getByText("settled")).toBeVisible();
  }
  report("another edition, to its first page", median(times.slice(2)));
  await page.goto("about:blank");
  server.kill();
});
