// A folder of pages comes in as one book: its order is seen before anything is taken, and changed by keys.
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import AxeBuilder from "@axe-core/playwright";
import { proofOf } from "./desk";
import { expect, test } from "./server";

const words = (about: string) =>
  `<p>The ${about} is looked at each morning before the first crossing.</p>`.repeat(
    8,
  );

/** A small site as a browser saves it, with bars on each page and a contents page. */
function site(folder: string) {
  const page = (file: string, title: string, text: string) => {
    mkdirSync(join(folder, file, ".."), { recursive: true });
    writeFileSync(
      join(folder, file),
      `<!DOCTYPE html><html lang="en"><head><title>${title}</title></head><body><div class="bar"><table><tr><td><a href="x.html">Prev</a></td>` +
        `<td><a href="y.html">Next</a></td></tr></table></div><h1>${title}</h1>${text}</body></html>`,
    );
  };
  page(
    "index.html",
    "The ferry",
    "<ul><li><a href='use/index.html'>Use</a></li><li><a href='winch.html'>Winch</a></li><li><a href='oil.html'>Oil</a></li></ul>",
  );
  page(
    "use/index.html",
    "Use",
    words("lamp") + "<ul><li><a href='night.html'>At night</a></li></ul>",
  );
  page("use/night.html", "At night", words("light"));
  page("winch.html", "Winch", words("winch"));
  page("oil.html", "Oil", words("oil"));
  writeFileSync(join(folder, "site.js"), "run()");
}

test("a folder of pages is one book, put in order by keys and taken in", async ({
  page,
  server,
}) => {
  test.setTimeout(90_000);
  const folder = mkdtempSync(join(tmpdir(), "kivren-site-"));
  site(folder);
  await page.goto(server.url);
  const [chooser] = await Promise.all([
    page.waitForEvent("filechooser"),
    page.getByRole("button", { name: "Bring in a folder…" }).click(),
  ]);
  await chooser.setFiles(folder);
  const order = page.getByRole("listbox", { name: /^The files as one book/ });
  await expect(order.getByRole("option")).toHaveText([
    /^The ferry\s*left out/,
    /^Use\s*chapter/,
    /^At night\s*section/,
    /^Winch\s*chapter/,
    /^Oil\s*chapter/,
  ]);
  await expect(page.getByText("5 files as one book")).toBeVisible();
  expect(
    (await new AxeBuilder({ page }).include(".work").analyze()).violations,
  ).toEqual([]);
  // Oil goes into Winch; Winch goes before Use.
  const changed = (keys: string) =>
    Promise.all([
      page.waitForResponse((r) => r.url().endsWith("/choices")),
      page.keyboard.press(keys),
    ]);
  await order.focus();
  await page.keyboard.press("End");
  await changed("Alt+ArrowRight");
  await expect(order.getByRole("option").last()).toHaveText(/^Oil\s*section/);
  await page.keyboard.press("ArrowUp");
  await changed("Alt+ArrowUp");
  await expect(order.getByRole("option").nth(1)).toHaveText(/^Winch\s*chapter/);
  await expect(order.getByRole("option").nth(2)).toHaveText(/^Oil\s*section/);
  // Use becomes a part, what stands in it a chapter.
  await page.keyboard.press("End");
  await page.keyboard.press("ArrowUp");
  await page.keyboard.press("k");
  await page.keyboard.type("a part");
  await changed("Enter");
  await expect(order.getByRole("option").last()).toHaveText(
    /^At night\s*chapter/,
  );
  await page.keyboard.press("Control+Enter");
  await expect(
    page.getByRole("textbox", { name: /^Text of/ }).first(),
  ).toBeVisible({
    timeout: 30_000,
  });
  const manual = /#\/([^/]+)/.exec(page.url())![1]!;
  const proof = await proofOf(server, manual);
  expect(
    proof.divisions
      .filter((d) => ["Chapter", "Part"].includes(d.kind))
      .map(
        (d) => `${d.kind} ${d.title}: ${d.heads.map((h) => h.title).join()}`,
      ),
  ).toEqual(["Chapter Winch: Oil", "Part Use: ", "Chapter At night: "]);
  rmSync(folder, { recursive: true });
});
