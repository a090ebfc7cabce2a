import { readFileSync } from "node:fs";
import {
  blocksOf,
  bringIn,
  openAt,
  openPlan,
  proofOf,
  rowOf,
  textOf,
} from "./desk";
import { expect, root, test } from "./server";

const lines = (page: import("@playwright/test").Page) =>
  page.getByRole("grid", { name: "Styles and look-alikes" });

test("the untidy leaflet comes in with a saved mapping in under a minute", async ({
  page,
  server,
}) => {
  const manual = await server.demo();
  // Once by hand: a role is changed, and the mapping kept.
  await bringIn(page, server, ["winch-leaflet.docx"]);
  await page
    .getByRole("button", { name: "a short bold line, alone becomes C head" })
    .click();
  await page.getByRole("textbox", { name: "Becomes" }).fill("D head");
  await page.keyboard.press("Enter");
  await expect(
    page.getByRole("button", {
      name: "a short bold line, alone becomes D head",
    }),
  ).toBeVisible();
  await page.getByRole("button", { name: "Keep as…" }).click();
  await page.getByLabel("Name of the mapping").fill("Halvik supplier leaflets");
  await page.keyboard.press("Enter");
  await expect(page.getByLabel("Mapping", { exact: true })).toHaveValue(
    "Halvik supplier leaflets",
  );
  await page.getByRole("button", { name: "Not now" }).click();

  // Into the manual, after a chapter: the mapping is proposed by itself.
  const began = Date.now();
  await openPlan(page, server, manual);
  await rowOf(page, "Before the first crossing").last().click();
  const [chooser] = await Promise.all([
    page.waitForEvent("filechooser"),
    page.getByRole("button", { name: "Bring in…" }).click(),
  ]);
  await chooser.setFiles(`${root}/demo/import/winch-leaflet.docx`);
  await expect(page.getByLabel("Mapping", { exact: true })).toHaveValue(
    "Halvik supplier leaflets",
  );
  await expect(page.locator(".mapping")).toContainText(/fits 1\d of 1\d/);
  await expect(page.locator(".proof .page svg")).toBeVisible();
  await page.getByRole("button", { name: "Take it in" }).click();
  await expect(page.getByLabel("Title of the division")).toHaveValue(
    "Halvik H2 winch: leaflet for owners",
  );
  expect(Date.now() - began).toBeLessThan(60_000);

  // What came in is what was shown, in its place, and one act takes it back.
  const isHalvik = (d: { title: string }) => d.title.startsWith("Halvik");
  await expect
    .poll(async () => (await proofOf(server, manual)).divisions.some(isHalvik))
    .toBe(true);
  const proof = await proofOf(server, manual);
  const at = proof.divisions.findIndex(isHalvik);
  expect(proof.divisions[at - 1]!.title).toBe("Before the first crossing");
  const blocks = await blocksOf(server, manual, proof.divisions[at]!.id);
  expect(
    blocks
      .filter((b) => b.type === "head" && b.attrs.level === "D")
      .map(textOf),
  ).toContain("Before you start");
  expect(
    blocks.some((b) => b.type === "admonition" && b.attrs.kind === "warning"),
  ).toBe(true);
  expect(blocks.filter((b) => b.type === "table").length).toBe(3);
  await page.getByRole("button", { name: "Take back" }).click();
  await expect
    .poll(async () =>
      (await proofOf(server, manual)).divisions.some((d) =>
        d.title.startsWith("Halvik"),
      ),
    )
    .toBe(false);
});

test("by keyboard: a role changed, an exception made, taken in as a new manual", async ({
  page,
  server,
}) => {
  await bringIn(page, server, ["workshop-notes.docx", "service-log.md"]);
  await lines(page).focus();
  const wanted = page.getByRole("button", {
    name: /^a line in capitals becomes/,
  });
  for (
    let i = 0;
    i < 12 &&
    !(await page
      .locator(".line.on", { hasText: "a line in capitals" })
      .count());
    i++
  )
    await page.keyboard.press("ArrowDown");
  await page.keyboard.press("Enter");
  await page.keyboard.type("B head");
  await page.keyboard.press("Enter");
  await expect(wanted).toHaveAccessibleName(
    "a line in capitals becomes B head",
  );
  // One paragraph alone.
  await page.getByText("A mirror on a stick").click();
  await page.getByRole("grid", { name: "The text as it will come in" }).focus();
  await page.keyboard.press("Enter");
  await page.keyboard.type("Tip");
  await page.keyboard.press("Enter");
  await expect(
    page.locator(".incoming .admonition", { hasText: "A mirror on a stick" }),
  ).toBeVisible();
  await page.keyboard.press("Control+Enter");
  await expect(page.locator(".manuscript").first()).toBeVisible();
  await expect(page.getByTitle("Open the shelf")).toContainText("Service");
  await expect(page.locator(".fore")).toContainText("Spring service");
});

test("cleaning is counted, switched off and on; what is left out is told with its place", async ({
  page,
  server,
}) => {
  await bringIn(page, server, ["winch-leaflet.docx"]);
  const empty = page.getByRole("checkbox", { name: /Empty paragraphs/ });
  await expect(
    page.locator(".cleaning label", { hasText: "Empty paragraphs" }),
  ).toContainText("13");
  const before = await page.locator(".incoming .block").count();
  await empty.click();
  await expect(empty).not.toBeChecked();
  await expect
    .poll(() => page.locator(".incoming .block").count())
    .toBeGreaterThan(before + 8);
  await empty.click();
  await page
    .getByRole("button", { name: /What is left out or changed/ })
    .click();
  const report = page.getByRole("region", {
    name: "What is left out or changed",
  });
  await expect(report).toContainText("leads to nothing that came in");
  await report.getByText("A number typed in front of a head").click();
  await expect(report).toContainText("winch-leaflet.docx, paragraph 6");
  // A place leads to its text.
  await report
    .getByRole("button", { name: "winch-leaflet.docx, paragraph 6" })
    .first()
    .click();
  await expect(page.locator(".block.here")).toBeInViewport();
  await expect(page.locator(".block.here")).toHaveCount(1);
  await expect(page.locator(".block").first()).not.toHaveClass(/here/);
});

test("the language that was told from the words is changed before it is taken in", async ({
  page,
  server,
}) => {
  await bringIn(page, server, ["winch-leaflet.docx"]);
  const language = page.getByRole("combobox", { name: "Language" });
  await expect(language).toHaveValue(/^en/);
  await language.selectOption("de");
  await expect(page.locator("[data-effect]")).toContainText("German (de)");
  await expect(language).toHaveValue("de");
  await page.keyboard.press("Control+Enter");
  await expect(page.locator('.manuscript[lang="de"]').first()).toBeVisible();
});

test("the second edition is brought in and two of its differences taken", async ({
  page,
  server,
}) => {
  await bringIn(page, server, ["winch-leaflet.docx"]);
  await page.getByRole("button", { name: "Take it in" }).click();
  await expect(page.getByLabel("Title of the division")).toHaveValue(/Halvik/);
  const manual = /#\/([0-9a-f]{32})/.exec(page.url())![1]!;
  const chapter = (await proofOf(server, manual)).divisions.find(
    (d) => d.kind === "Chapter",
  )!.id;
  // The writer put an index entry into a paragraph that the second edition changes.
  const oil = (
    await server.get<{
      blocks: { id: string; version: number; body: string }[];
    }>(`/manuals/${manual}/divisions/${chapter}`)
  ).blocks.find((b) => b.body.includes("1.4 litres. Drain"))!;
  const body = JSON.parse(oil.body) as { content: unknown[] };
  body.content.push({
    type: "indexEntry",
    attrs: { id: "entry-of-the-writer", headings: ["oil", "changing"] },
  });
  await server.post(`/manuals/${manual}/batches`, {
    id: crypto.randomUUID(),
    writer: "w",
    label: "Typing",
    joined: null,
    blocks: [
      {
        id: oil.id,
        division: chapter,
        basedOn: oil.version,
        body: JSON.stringify(body),
        after: null,
        deleted: false,
      },
    ],
  });

  await page.getByTitle("Open the shelf").click();
  await page
    .getByRole("option", { name: /Halvik/ })
    .first()
    .click();
  const [chooser] = await Promise.all([
    page.waitForEvent("filechooser"),
    page
      .getByRole("button", { name: "Newer version of winch-leaflet.docx" })
      .click(),
  ]);
  await chooser.setFiles(
    `${root}/demo/import/winch-leaflet-second-edition.docx`,
  );
  const differences = page.getByRole("grid", { name: "Differences" });
  await expect(differences).toBeVisible();
  await expect(differences.getByRole("row")).toHaveCount(5);
  await expect(differences).toContainText("1.6");
  // By keyboard: leave all, then take two.
  await differences.focus();
  for (let i = 0; i < 5; i++) {
    await page.keyboard.press("l");
    await page.keyboard.press("ArrowDown");
  }
  await expect(page.locator(".sum")).toContainText("0 of 5");
  await differences
    .getByRole("row", { name: /holds 1.*litres/ })
    .getByRole("button", { name: "Take" })
    .click();
  await differences
    .getByRole("row", { name: /copper washer/ })
    .getByRole("button", { name: "Take" })
    .click();
  await page.getByRole("button", { name: "Take these" }).click();
  await expect(page.getByLabel("Title of the division")).toHaveValue(/Halvik/);
  const after = await blocksOf(server, manual, chapter);
  const changed = after.find((b) => b.attrs.id === oil.id)!;
  expect(textOf(changed)).toContain("The case holds 1.6 litres. Drain");
  expect(JSON.stringify(changed)).toContain("entry-of-the-writer");
  const words = after.map(textOf);
  expect(words.some((w) => w.includes("copper washer"))).toBe(true);
  expect(words.some((w) => w.includes("Owners of the first series"))).toBe(
    true,
  ); // left
  expect(words.join(" ")).toContain("45 Nm");
});

test("files that cannot be read are told of, and nothing changes", async ({
  page,
  server,
}) => {
  const manual = await server.demo();
  await openAt(page, server, manual, "Crossing");
  const before = (await proofOf(server, manual)).pageCount;
  await openPlan(page, server, manual);
  const [chooser] = await Promise.all([
    page.waitForEvent("filechooser"),
    page.getByRole("button", { name: "Bring in…" }).click(),
  ]);
  const whole = readFileSync(`${root}/demo/import/winch-leaflet.docx`);
  await chooser.setFiles([
    {
      name: "cut-short.docx",
      mimeType: "application/octet-stream",
      buffer: whole.subarray(0, 9000),
    },
    {
      name: "locked.docx",
      mimeType: "application/octet-stream",
      buffer: Buffer.from([
        0xd0, 0xcf, 0x11, 0xe0, 0xa1, 0xb1, 0x1a, 0xe1, 0, 0,
      ]),
    },
  ]);
  await expect(
    page.getByText(/cut-short.docx is cut short or damaged/),
  ).toBeVisible();
  await expect(
    page.getByText(/locked.docx is protected by a password/),
  ).toBeVisible();
  await page.getByRole("button", { name: "Back" }).click();
  await expect(page.locator(".row").first()).toBeVisible();
  expect((await proofOf(server, manual)).pageCount).toBe(before);
});
