// Finished books and web pages, judged by other people's checkers, and read in a browser as their readers do.
import { execFile } from "node:child_process";
import { mkdtemp, readdir, rm } from "node:fs/promises";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { pathToFileURL } from "node:url";
import { promisify } from "node:util";
import AxeBuilder from "@axe-core/playwright";
import { expect, test, type Page } from "@playwright/test";
import { root } from "./server";

const run = promisify(execFile);
const kivren = join(root, "src/Kivren.Cli/bin/Release/net10.0/kivren.dll");
const bounds = { timeout: 90_000, maxBuffer: 50_000_000 };

let folder = "";
test.beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), "kivren-outputs-"));
});
test.afterAll(() => rm(folder, { recursive: true, force: true }));

/** Every output of a kind, of all editions; a manual with loose ends says so by its exit code and is produced all the same. */
async function produce(manual: string, only: string): Promise<string[]> {
  const out = join(folder, `${manual}-${only}`);
  await run(
    "dotnet",
    [
      kivren,
      "produce",
      join(root, "demo", `${manual}.kivren`),
      "--out",
      out,
      "--only",
      only,
    ],
    bounds,
  ).catch((e: { code?: number; stderr?: string }) => {
    if (e.code !== 1) throw new Error(e.stderr);
  });
  return (await readdir(out)).map((f) => join(out, f));
}

async function unpacked(zip: string, name: string): Promise<string> {
  const to = join(folder, name);
  await run("unzip", ["-q", zip, "-d", to], bounds);
  return to;
}

test("EPUBCheck finds nothing in the books of both demos", async () => {
  test.setTimeout(180_000);
  const books = [
    (await produce("tarn6", "epub")).find((f) => f.includes("6E, screen"))!,
    ...(await produce("cf2", "epub")),
  ];
  expect(books).toHaveLength(2);
  for (const book of books) {
    const { stdout, stderr } = await run(
      "java",
      ["-jar", "/usr/share/java/epubcheck.jar", book],
      bounds,
    );
    expect(stdout + stderr).toContain("0 fatals / 0 errors / 0 warnings");
  }
});

test("the checker of HTML finds nothing in the web pages of both demos", async () => {
  test.setTimeout(180_000);
  const sites = [
    (await produce("tarn6", "site")).find((f) => f.includes("Both models"))!,
    ...(await produce("cf2", "site")),
  ];
  expect(sites).toHaveLength(2);
  for (const [i, site] of sites.entries()) {
    const pages = await unpacked(site, `checked-${i}`);
    const { stdout, stderr } = await run(
      "java",
      [
        "-jar",
        join(root, "tests/browser/node_modules/vnu-jar/build/dist/vnu.jar"),
        "--skip-non-html",
        pages,
      ],
      bounds,
    );
    expect(stdout + stderr).toBe("");
  }
});

/** The web pages of the demo, opened from disk. */
async function open(page: Page, name: string) {
  await page.goto(pathToFileURL(join(folder, "read", name)).href);
}

test.describe("web pages from disk", () => {
  test.beforeAll(async () => {
    const sites = await produce("tarn6", "site");
    await unpacked(
      sites.find((f) => f.includes("6E, screen"))!,
      "read",
    );
  });

  const samples = [
    "index.html",
    "k-tarn6-ch-ferry.html",
    "k-tarn6-ch-electric.html",
    "k-tarn6-app-splice.html",
    "k-tarn6-d0767.html",
  ];
  for (const scheme of ["light", "dark"] as const)
    test(`axe finds nothing on them, ${scheme}`, async ({ page }) => {
      test.setTimeout(90_000);
      await page.emulateMedia({ colorScheme: scheme });
      for (const name of scheme === "light" ? samples : samples.slice(1, 3)) {
        await open(page, name);
        const { violations } = await new AxeBuilder({ page })
          .withTags(["wcag2a", "wcag2aa", "wcag21aa", "wcag22aa"])
          .analyze();
        expect(
          violations.map(
            (v) => `${name}: ${v.id} ${v.nodes.map((n) => n.html).join("\n")}`,
          ),
        ).toEqual([]);
      }
    });

  test("nothing is fetched from elsewhere, and faces come", async ({
    page,
  }) => {
    const asked: string[] = [];
    const failed: string[] = [];
    page.on("request", (r) => asked.push(r.url()));
    page.on("requestfailed", (r) => failed.push(r.url()));
    page.on("console", (m) => failed.push(m.text()));
    for (const name of samples) await open(page, name);
    await page.evaluate(() => document.fonts.ready);
    expect(asked.filter((u) => !u.startsWith("file:"))).toEqual([]);
    expect(failed).toEqual([]);
    expect(
      await page.evaluate(() =>
        document.fonts.check('16px "kv-source-serif-4"'),
      ),
    ).toBe(true);
    // What is searched through waits until somebody searches.
    expect(asked.some((u) => u.includes("search/"))).toBe(false);
  });

  test("search finds a section and goes there by keys", async ({ page }) => {
    await open(page, "index.html");
    await page.getByLabel("Search").fill("brake lining");
    await expect(page.locator(".found li").first()).toContainText(/lining/i);
    await page.getByLabel("Search").press("ArrowDown");
    await expect(page.locator(".found a").first()).toBeFocused();
    await page.keyboard.press("Enter");
    await expect(page).toHaveURL(/k-tarn6-ch-winch\.html/);
    await page.getByLabel("Search").fill("xyzzy");
    await expect(page.locator(".found")).toContainText("Nothing found");
    await page.keyboard.press("Escape");
    await expect(page.locator(".found")).toHaveCount(0);
  });

  test("a note says what it says beside its call, a film waits for consent, texts fold", async ({
    page,
  }) => {
    await open(page, "k-tarn6-ch-before.html");
    await page.locator("a.note-call").first().focus();
    await expect(page.locator(".says")).toBeVisible();
    await page.keyboard.press("Escape");
    await expect(page.locator(".says")).toHaveCount(0);
    await open(page, "k-tarn6-app-splice.html");
    await expect(page.locator("video")).toHaveCount(0);
    await expect(
      page.getByRole("button", { name: /^Play, from lindqvarn\.example/ }),
    ).toBeVisible();
    await open(page, "k-tarn6-ch-cross.html");
    const fold = page.locator("details").first();
    await expect(fold.locator("p").last()).toBeVisible();
    await fold.locator("summary").press("Enter");
    await expect(fold.locator("p").last()).toBeHidden();
    await open(page, "k-tarn6-ch-ferry.html");
    await expect(page.locator("a.area").first()).toHaveAttribute("href", /#k-/);
  });

  test("without script all is read, on a phone too", async ({ browser }) => {
    const context = await browser.newContext({
      javaScriptEnabled: false,
      viewport: { width: 390, height: 800 },
    });
    const page = await context.newPage();
    await open(page, "k-tarn6-app-schedule.html");
    await expect(page.getByRole("heading", { level: 1 })).toBeVisible();
    await expect(page.locator(".search")).toBeHidden();
    // What is wider than the page scrolls by itself.
    expect(
      await page.evaluate(() => document.documentElement.scrollWidth),
    ).toBeLessThanOrEqual(390);
    await page.getByRole("link", { name: /^Next/ }).click();
    await expect(page).toHaveURL(/app-splice/);
    await context.close();
  });
});
