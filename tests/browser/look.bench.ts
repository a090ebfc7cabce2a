// A look turned in a long manual: the spread in sight, then all of it; run by bench/run.
import { test } from "@playwright/test";
import { proofOf } from "./desk";
import { at, generated, median, report } from "./measuring";
import { KivrenServer } from "./server";

test("a value of the look is turned in a manual of a thousand pages", async ({
  page,
}) => {
  test.setTimeout(420_000);
  const server = new KivrenServer();
  await server.start();
  const { file } = generated("long.kivren", ...["--pages", 1000, "--seed", 7]);
  const manual = await server.openPackage(file);
  const proof = await proofOf(server, manual);
  report("pages of the manual whose look is turned", proof.pageCount);
  const chapter = proof.divisions.filter((d) => d.kind === "Chapter")[9]!;
  const look = await server.get<ReturnType<typeof JSON.parse>>(
    `/manuals/${manual}/look/file?name=${encodeURIComponent("Workshop, A5")}`,
  );
  const order = () => ({
    file: JSON.stringify(look),
    division: chapter.id,
    page: 4,
  });
  const turns: (() => void)[] = [
    () => (look.masters[0].inner += 0.5),
    () => (look.heads[0].before += 0.25),
    () => (look.dresses[0].dress.size += 0.01),
    () => (look.masters[0].fields[0].dress.size += 0.1),
    () => (look.table.outer = (look.table.outer ?? 0.8) + 0.1),
    () => (look.masters[0].foot += 0.5),
  ];
  const timed = async (path: string) => {
    const begun = performance.now();
    await server.post(`/manuals/${manual}/look/${path}`, order());
    return performance.now() - begun;
  };
  const glimpses: number[] = [];
  const settled: number[] = [];
  for (let n = 0; n < 24; n++) {
    turns[n % turns.length]!();
    glimpses.push(await timed("glimpse"));
    settled.push(await timed("tried"));
  }
  report("a value turned, spread in sight", median(glimpses.slice(6)));
  report("a value turned, spread in sight, worst", at(glimpses.slice(6), 1));
  report("a value turned, all settled", median(settled.slice(6)));
  report("a value turned, all settled, worst", at(settled.slice(6), 1));
  // A margin is dragged in the browser, as fast as a hand moves: how often the spread is drawn anew.
  await page.setViewportSize({ width: 1280, height: 800 });
  await page.goto(`${server.url}/#/${manual}/look`);
  const ring = page.getByRole("button", { name: /^Inner margin of page/ });
  await ring.last().waitFor({ timeout: 60_000 });
  await page.evaluate(() => {
    const seen = window as unknown as { drawn: number };
    seen.drawn = 0;
    const last = () => document.querySelector(".sheet svg");
    let before = last();
    const look = () => {
      if (last() !== before) seen.drawn++;
      before = last();
      requestAnimationFrame(look);
    };
    look();
  });
  const at0 = (await ring.last().boundingBox())!;
  await page.mouse.move(at0.x + 12, at0.y + 12);
  await page.mouse.down();
  const begun = performance.now();
  for (let n = 1; performance.now() - begun < 3000; n++) {
    await page.mouse.move(at0.x + 12 + (n % 60), at0.y + 12);
    await page.evaluate(() => new Promise(requestAnimationFrame));
  }
  const seconds = (performance.now() - begun) / 1000;
  await page.mouse.up();
  report(
    "spreads a second while a margin is dragged",
    (await page.evaluate(
      () => (window as unknown as { drawn: number }).drawn,
    )) / seconds,
  );
  await page.goto("about:blank");
  // Other looks are tried on in turn.
  const others: number[][] = [[], []];
  for (const name of ["Code, A4", "Pocket", "Workshop, A5", "Code, A4"]) {
    Object.keys(look).forEach((key) => delete look[key]);
    Object.assign(
      look,
      await server.get(
        `/manuals/${manual}/look/file?name=${encodeURIComponent(name)}`,
      ),
    );
    // What is worn is settled already: a little is changed in it too.
    look.heads[3].before = 6.25;
    others[0]!.push(await timed("glimpse"));
    others[1]!.push(await timed("tried"));
  }
  report("another look, spread in sight", median(others[0]!));
  report("another look, all settled", median(others[1]!));
  server.kill();
});
