// Editions by keyboard: a booklet in its own order, what print leaves out, another look, outputs and their reports.
import { execFileSync } from "node:child_process";
import { readFileSync } from "node:fs";
import AxeBuilder from "@axe-core/playwright";
import type { Locator, Page } from "@playwright/test";
import { proofOf, typeInto } from "./desk";
import { expect, root, test, type KivrenServer } from "./server";

async function openEditions(page: Page, server: KivrenServer, manual: string) {
  await page.goto(`${server.url}/#/${manual}/editions`);
  await expect(list(page).getByRole("option").first()).toBeVisible();
}

const list = (page: Page) =>
  page.getByRole("listbox", { name: "Editions", exact: true });
const contents = (page: Page) =>
  page.getByRole("listbox", { name: /^Contents of the edition/ });
const sentences = (page: Page) =>
  page.getByRole("toolbar", { name: "What the edition is" });
const outputs = (page: Page) =>
  page.getByRole("region", { name: "Outputs of the edition" });

/** Walks a list by its keys to the row with these words. */
async function walkTo(
  page: Page,
  rows: ReturnType<typeof list>,
  words: string,
) {
  await rows.focus();
  await page.keyboard.press("Home");
  for (let n = 0; n < 300; n++) {
    const id = await rows.getAttribute("aria-activedescendant");
    if ((await page.locator(`[id="${id}"]`).innerText()).includes(words))
      return;
    await page.keyboard.press("ArrowDown");
  }
  throw new Error(`There is no row “${words}”.`);
}

/** An act on the edition was done, and its view is there. */
async function done(page: Page, act: () => Promise<void>) {
  const answered = page.waitForResponse((r) =>
    r.url().endsWith("/editions/acts"),
  );
  await act();
  await answered;
  const read = page.waitForResponse(
    (r) => r.url().endsWith("/editions") && r.request().method() === "GET",
  );
  await read;
}

/** Takes the choice that asks for a file. */
async function fileAskedFor(page: Page, word: Locator, choice: string) {
  await typeInto(page, word, choice);
  const chooser = page.waitForEvent("filechooser");
  await page.keyboard.press("Enter");
  return chooser;
}

/** Opens the choices of an underlined word by keyboard and takes one. */
async function choose(page: Page, word: RegExp, choice: string) {
  await typeInto(
    page,
    sentences(page).getByRole("button", { name: word }),
    choice,
  );
  await done(page, () => page.keyboard.press("Enter"));
}

const nine = [
  "Leaving the shore",
  "Under way",
  "Coming alongside",
  "Horn and bell",
  "Lamps and shapes",
  "What she may carry",
  "Placing the load",
  "The round",
  "A person overboard",
];

test("a booklet of nine sections in its own order, in another look, is made and produced by keyboard", async ({
  page,
  server,
}) => {
  const manual = await server.demo();
  await openEditions(page, server, manual);
  await list(page).focus();
  await page.keyboard.press("n");
  await page.keyboard.type("Crossing card");
  await done(page, () => page.keyboard.press("Enter"));
  await walkTo(page, contents(page), "Title page");
  await done(page, () => page.keyboard.press("0"));
  await expect(sentences(page)).toContainText("nothing yet");
  for (const section of nine) {
    await walkTo(page, contents(page), section);
    await done(page, () => page.keyboard.press("Space"));
  }
  await expect(sentences(page)).toContainText("9 sections");
  // The lamps stand before the horn, and loading before all else.
  await walkTo(page, contents(page), "Lamps and shapes");
  await done(page, () => page.keyboard.press("Alt+ArrowUp"));
  for (let n = 0; n < 2; n++) {
    await walkTo(page, contents(page), "Loading vehicles");
    await done(page, () => page.keyboard.press("Alt+ArrowUp"));
  }
  await choose(page, /as the manual: Look/, "Pocket");
  await choose(page, /screen PDF: Goes out as/, "print PDF");
  await choose(
    page,
    /print PDF: Goes out as|screen PDF, print PDF: Goes out as/,
    "screen PDF",
  );
  const view = await server.get<{
    editions: {
      name: string;
      takes: { sections: string[] }[];
      look: string;
      goesOutAs: { kind: string }[];
    }[];
  }>(`/manuals/${manual}/editions`);
  const made = view.editions.find((e) => e.name === "Crossing card")!;
  expect(made.takes.map((t) => t.sections.length)).toEqual([2, 3, 2, 1, 1]);
  expect(made.look).toBe("Pocket");
  expect(made.goesOutAs.map((o) => o.kind)).toEqual(["printPdf"]);
  await outputs(page)
    .getByRole("button", { name: "Produce print PDF" })
    .focus();
  await page.keyboard.press("Enter");
  const file = outputs(page).getByRole("link", { name: "Take the file" });
  await expect(file).toBeVisible({ timeout: 30_000 });
  const coming = page.waitForEvent("download");
  await file.press("Enter");
  const taken = await coming;
  expect(taken.suggestedFilename()).toContain("Crossing card, print.pdf");
  expect(
    readFileSync(await taken.path())
      .subarray(0, 4)
      .toString(),
  ).toBe("%PDF");
});

test("what is for screens alone is left out of print, and the pages say so before and after", async ({
  page,
  server,
}) => {
  const manual = await server.demo();
  await openEditions(page, server, manual);
  await walkTo(page, list(page), "Tarn 6E, screen");
  const pages = async () =>
    (
      await server.get<{ pages: number; words: number }>(
        `/manuals/${manual}/editions/seen?name=${encodeURIComponent("Tarn 6E, screen")}`,
      )
    ).words;
  const before = await pages();
  await choose(page, /any medium/, "print");
  await expect(
    sentences(page).getByRole("button", { name: /medium print/ }),
  ).toBeVisible();
  expect(await pages()).toBeLessThan(before - 50);
  await page.keyboard.press("Control+z");
  await expect(
    sentences(page).getByRole("button", { name: /any medium/ }),
  ).toBeVisible();
  expect(await pages()).toBe(before);
});

test("the pages of another edition are shown in every view, and back", async ({
  page,
  server,
}) => {
  const manual = await server.demo();
  const whole = (await proofOf(server, manual)).pageCount;
  await openEditions(page, server, manual);
  await walkTo(page, list(page), "Deckhand’s pocket book");
  await page
    .getByRole("button", { name: "Show its pages in Write" })
    .press("Enter");
  await expect(page.getByText("Its pages are shown in Write")).toBeVisible();
  const { violations } = await new AxeBuilder({ page })
    .withTags(["wcag2a", "wcag2aa", "wcag21aa", "wcag22aa"])
    .analyze();
  expect(violations.map((v) => `${v.id}: ${v.nodes[0]?.html}`)).toEqual([]);
  await expect(page.locator("header .settled b").first()).not.toHaveText(
    `${whole} pages`,
  );
  // From the strip of any screen another is chosen.
  await page
    .locator("header")
    .getByRole("button", { name: "Look", exact: true })
    .press("Enter");
  const strip = page.getByTitle(/The pages are those of the edition/);
  await strip.focus();
  await page.keyboard.press("Enter");
  await expect(page.getByRole("dialog", { name: "Edition" })).toBeVisible();
  await page.keyboard.type("Both models");
  await page.keyboard.press("Enter");
  await expect(page.locator("header .settled b").first()).toHaveText(
    `${whole} pages`,
  );
});

test("all that goes out is produced, its report leads to what is wrong, and the next says what changed", async ({
  page,
  server,
}) => {
  const manual = await server.demo();
  await openEditions(page, server, manual);
  await walkTo(page, list(page), "Tarn 6E, screen");
  await page.keyboard.press("p");
  const pdf = outputs(page).getByRole("article", { name: "screen PDF" });
  const epub = outputs(page).getByRole("article", { name: "EPUB" });
  await expect(pdf.getByText("says something wrong.")).toBeVisible({
    timeout: 30_000,
  });
  // What is wrong is not offered as if it were sound.
  await expect(
    pdf.getByRole("link", { name: "Take it as it is" }),
  ).toBeVisible();
  await expect(epub.getByRole("button", { name: "Report" })).toBeVisible({
    timeout: 30_000,
  });
  await pdf.getByRole("button", { name: "Report" }).press("Enter");
  await pdf.getByRole("button", { name: /See, to nothing/ }).press("Enter");
  const text = page.getByRole("textbox", {
    name: "Text of Emergencies",
    exact: true,
  });
  await expect(text.locator("[data-id]").first()).toBeVisible();
  await text.press("End");
  await page.keyboard.type(" Call before you tow.");
  await expect(page.locator("[data-save]")).toHaveAttribute(
    "data-save",
    /saved|stored/,
  );
  await openEditions(page, server, manual);
  await walkTo(page, list(page), "Tarn 6E, screen");
  await expect(pdf.getByText("The text has changed since.")).toBeVisible();
  await pdf.getByRole("button", { name: "Produce" }).press("Enter");
  await expect(pdf.getByText("The text has changed since.")).toHaveCount(0, {
    timeout: 30_000,
  });
  await pdf.getByRole("button", { name: "Report" }).press("Enter");
  await expect(pdf).toContainText(/Text changed: “\d+ Emergencies”/);
});

test("two who change one edition: the second is told", async ({
  page,
  server,
}) => {
  const manual = await server.demo();
  await openEditions(page, server, manual);
  await walkTo(page, list(page), "Deckhand’s pocket book");
  const view = await server.get<{
    editions: { name: string; leftOut: string }[];
  }>(`/manuals/${manual}/editions`);
  const was = view.editions.find((e) => e.name === "Deckhand’s pocket book")!;
  await page.route("**/editions", (route) => route.abort());
  await server.post(`/manuals/${manual}/editions/acts`, {
    id: crypto.randomUUID(),
    writer: "another",
    do: "put",
    name: was.name,
    edition: { ...was, leftOut: "nothing" },
    was,
  });
  await typeInto(
    page,
    sentences(page).getByRole("button", { name: /Pocket: Look/ }),
    "Reader",
  );
  await page.unroute("**/editions");
  await page.keyboard.press("Enter");
  await expect(page.getByText(/Another writer changed/)).toBeVisible();
  // What the other made of it is on the screen.
  await expect(
    sentences(page).getByRole("button", { name: /^nothing: References/ }),
  ).toBeVisible();
});

test("two choices made faster than the first is answered both hold", async ({
  page,
  server,
}) => {
  const manual = await server.demo();
  await openEditions(page, server, manual);
  await walkTo(page, list(page), "Tarn 6, print");
  let answer = () => {};
  const held = new Promise<void>((then) => (answer = then));
  await page.route("**/editions/acts", async (route) => {
    await held;
    await route.continue();
  });
  const word = (name: RegExp) =>
    sentences(page).getByRole("button", { name }).first();
  await typeInto(page, word(/: References to what is left out read$/), "noth");
  await page.keyboard.press("Enter");
  // The choices of another word stand open while the answer comes.
  await typeInto(page, word(/: Look$/), "Reader");
  answer();
  await page.waitForResponse(
    (r) => r.url().endsWith("/editions") && r.request().method() === "GET",
  );
  await page.keyboard.press("Enter");
  await expect(word(/^nothing: References/)).toBeVisible();
  await expect
    .poll(async () => {
      const { editions } = await server.get<{
        editions: { name: string; leftOut: string; look: string | null }[];
      }>(`/manuals/${manual}/editions`);
      const e = editions.find((one) => one.name === "Tarn 6, print")!;
      return [e.leftOut, e.look?.includes("Reader") ?? false];
    })
    .toEqual(["nothing", true]);
});

test("the word-processing file is made into the firm's template, its roles in the styles chosen, which are kept by name", async ({
  page,
  server,
}) => {
  const manual = await server.demo();
  await openEditions(page, server, manual);
  await walkTo(page, list(page), "Tarn 6, print");
  await choose(page, /Goes out as$/, "word-processing");
  const chooser = await fileAskedFor(
    page,
    sentences(page).getByRole("button", { name: "in the look’s own styles" }),
    "Give a",
  );
  await chooser.setFiles(`${root}/demo/import/winch-leaflet.docx`);
  const dialog = page.getByRole("dialog", { name: /Styles of/ });
  await expect(dialog.getByLabel("Caption")).toHaveValue("Leaflet caption");
  await dialog.getByLabel("Body", { exact: true }).selectOption("Leaflet text");
  await dialog.getByLabel("Keep these choices as").fill("Leaflets");
  await page.keyboard.press("Enter");
  await expect(page.getByText("Kept as “Leaflets”")).toBeVisible();
  await done(page, () =>
    dialog.getByRole("button", { name: "Have it so" }).click(),
  );
  await expect(
    sentences(page).getByRole("button", { name: "into “winch-leaflet.docx”" }),
  ).toBeVisible();
  const made = outputs(page).getByRole("article", {
    name: "word-processing file",
  });
  await made.getByRole("button", { name: "Produce" }).click();
  const link = made.getByRole("link", { name: /Take/ });
  await expect(link).toBeVisible({ timeout: 60_000 });
  const [download] = await Promise.all([
    page.waitForEvent("download"),
    link.click(),
  ]);
  const text = execFileSync(
    "unzip",
    ["-p", await download.path(), "word/document.xml"],
    { maxBuffer: 50_000_000, encoding: "utf8" },
  );
  expect(text).toContain('w:val="LeafletText"');
  expect(text).not.toContain('w:val="Normal"');
  // What was kept serves the other way round, and for the next edition.
  const mappings = await server.get<{ name: string }[]>("/mappings");
  expect(mappings.map((m) => m.name)).toContain("Leaflets");
  // The template is no picture.
  const pictures = await server.get<{ name: string }[]>(
    `/manuals/${manual}/pictures`,
  );
  expect(pictures.map((p) => p.name)).not.toContain("winch-leaflet.docx");
});

test("two editions are compared by keyboard: pages each, and the text that only one has", async ({
  page,
  server,
}) => {
  test.setTimeout(90_000);
  const manual = await server.demo();
  await openEditions(page, server, manual);
  await walkTo(page, list(page), "Tarn 6, print");
  await typeInto(
    page,
    page.getByRole("button", { name: "Compare with …" }),
    "6E",
  );
  await page.keyboard.press("Enter");
  const dialog = page.getByRole("dialog", { name: /Tarn 6, print/ });
  await expect(dialog).toContainText(/Only in “Tarn 6E, screen”: \d+ pieces/);
  const pages = await dialog.locator("tr", { hasText: "pages" }).innerText();
  expect(pages).toMatch(/pages\s+\d+\s+\d+/);
  const axe = new AxeBuilder({ page }).include("[role=dialog]");
  expect((await axe.analyze()).violations).toEqual([]);
  const only = dialog.getByRole("listitem").getByRole("button").last();
  await only.press("Enter");
  await expect(page.getByRole("textbox", { name: /^Text of / })).toBeVisible();
});

test("a cover with its spine goes out beside the print PDF, by the printer's profile, and files are called by a rule", async ({
  page,
  server,
}) => {
  const manual = await server.demo();
  await openEditions(page, server, manual);
  await walkTo(page, list(page), "Tarn 6, print");
  await choose(page, /Goes out as$/, "cover PDF");
  await choose(page, /Back$/, "Legal page");
  await choose(page, /Thickness of a leaf$/, "0.2 mm");
  const chooser = await fileAskedFor(
    page,
    sentences(page)
      .getByRole("button", { name: "offset on coated paper" })
      .last(),
    "Give the",
  );
  await done(page, () =>
    chooser.setFiles(
      `${root}/src/Kivren.Formats/Pdf/Profiles/coated-offset.icc`,
    ),
  );
  await expect(sentences(page)).toContainText(
    "the printer’s “coated-offset.icc”",
  );
  await typeInto(
    page,
    sentences(page).getByRole("button", { name: "after manual and edition" }),
    "TW-6 {output}",
  );
  await done(page, () => page.keyboard.press("Enter"));
  const made = outputs(page).getByRole("article", { name: "cover PDF" });
  await made.getByRole("button", { name: "Produce" }).click();
  await expect(made.getByRole("link", { name: /Take/ })).toBeVisible({
    timeout: 60_000,
  });
  await made.getByRole("button", { name: "Report" }).click();
  await expect(made).toContainText(/The spine is \d+\.\d mm wide/);
  await expect(made).toContainText("Ink on one spot");
  const [download] = await Promise.all([
    page.waitForEvent("download"),
    made.getByRole("link", { name: /Take/ }).click(),
  ]);
  expect(download.suggestedFilename()).toBe("TW-6 cover.pdf");
});

test("a manual without an edition goes out whole in every way", async ({
  page,
  server,
}) => {
  test.setTimeout(90_000);
  const { id: manual } = await server.post<{ id: string }>("/manuals", {
    title: "Small",
  });
  await page.goto(`${server.url}/#/${manual}/editions`);
  const epub = outputs(page).getByRole("article", {
    name: "EPUB",
    exact: true,
  });
  await epub.getByRole("button", { name: "Produce" }).click();
  await expect(epub.getByRole("link", { name: /Take/ })).toBeVisible({
    timeout: 60_000,
  });
});
