import { execFileSync } from "node:child_process";
import { mkdtempSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { openAt, settled, proofOf } from "./desk";
import { root, test } from "./server";
test("look", async ({ page, server }) => {
  test.setTimeout(200_000);
  await page.setViewportSize({ width: 1280, height: 800 });
  const manual = await server.demo();
  await openAt(page, server, manual, "Winch and brake");
  await page.keyboard.press("Control+f");
  const drawer = page.getByRole("region", { name: "Find" });
  await drawer.getByRole("textbox", { name: "Find" }).fill("brake");
  await drawer.getByLabel("replace", { exact: true }).check();
  await page.waitForTimeout(600);
  await page.screenshot({ path: "/tmp/w/a.png" });
  const file = join(mkdtempSync(join(tmpdir(), "kivren-")), "long.kivren");
  execFileSync("dotnet", [join(root, "src/Kivren.Cli/bin/Release/net10.0/kivren.dll"), "generate", "--pages", "1030", "--seed", "1", "-o", file]);
  const long = await server.openPackage(file);
  await proofOf(server, long);
  const looking = { words: "cable", wholeWords: true, sameCase: false, pattern: false, division: null };
  for (let i = 0; i < 6; i++) {
    const t = performance.now();
    const f = await server.post<any>(`/manuals/${long}/find`, { ...looking, words: ["cable", "brake", "zzz", "the", "winch", "a+"][i], pattern: i === 5 });
    console.log("find", f.total, Math.round(performance.now() - t));
  }
  for (let i = 0; i < 4; i++) {
    const words = ["winch", "wynch", "winch", "wynch"][i]!;
    const t = performance.now();
    const r = await server.post<any>(`/manuals/${long}/replace`, { id: crypto.randomUUID(), writer: "w", looking: { ...looking, words }, with: i % 2 ? "winch" : "wynch", chosen: null });
    const stored = performance.now() - t;
    await proofOf(server, long);
    console.log(r.words, Math.round(stored), Math.round(performance.now() - t));
  }
});
