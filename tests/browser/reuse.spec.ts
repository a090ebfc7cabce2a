import type { Page } from "@playwright/test";
import { randomUUID } from "node:crypto";
import {
  blocksOf,
  divisionText,
  openAt,
  pageText,
  proofOf,
  settled,
  textOf,
} from "./desk";
import { expect, test } from "./server";

/** Opens what is kept once, does something there and leaves it by the keyboard. */
async function inDrawer(page: Page, deed: () => Promise<void>) {
  await page.keyboard.press("F4");
  await expect(page.getByLabel("Name of a new variable")).toBeFocused();
  await deed();
  await page.keyboard.press("Escape");
  await expect(page.locator(".drawer")).toHaveCount(0);
}

test("conditions for a model are made, set on words, a step and a section, and the manuscript is seen as one reader sees it", async ({
  page,
  server,
}) => {
  const made = await server.post<{ id: string }>("/manuals", {
    title: "Two models",
  });
  const division = await openAt(page, server, made.id, "First chapter");
  const text = page.locator(".manuscript").first();
  await text.focus();
  await page.keyboard.type("Turn the crank or press Start.");
  await page.keyboard.press("Enter");
  await page.keyboard.type("Winch motor");
  await page.keyboard.press("Control+.");
  await page.keyboard.press("1");
  await page.keyboard.press("End");
  await page.keyboard.press("Enter");
  await page.keyboard.type("The motor hums.");
  await settled(page);
  // No conditions yet: the panel leads to where they are made.
  await page.keyboard.press("Control+.");
  await page.keyboard.press("a");
  await expect(page.getByRole("dialog", { name: "Applies to" })).toContainText(
    "no conditions yet",
  );
  await page.keyboard.press("Enter");
  await expect(page.getByLabel("Name of a new variable")).toBeFocused();
  await page.getByLabel("Name of a new condition").fill("model");
  await page.getByLabel("Values of the new condition").fill("6, 6E");
  await page.keyboard.press("Enter");
  await expect(page.getByLabel("Value 6E of model")).toBeVisible();
  await page.keyboard.press("Escape");
  // Words.
  await page.locator(".manuscript p").first().click();
  await page.keyboard.press("End");
  await page.keyboard.press("ArrowLeft");
  for (let n = 0; n < " or press Start".length; n++)
    await page.keyboard.press("Shift+ArrowLeft");
  await page.keyboard.press("Control+.");
  await page.keyboard.press("a");
  const panel = page.getByRole("dialog", { name: "Applies to" });
  await panel.getByLabel("6E").check();
  await page.keyboard.press("Enter");
  await expect(page.locator(".manuscript .applies")).toHaveText(
    " or press Start",
  );
  // The section.
  await page.locator(".manuscript h2").click();
  await page.keyboard.press("Control+.");
  await page.keyboard.press("a");
  await expect(panel).toContainText("This section");
  await panel.getByLabel("6E").check();
  await page.keyboard.press("Enter");
  await settled(page);
  const blocks = await blocksOf(server, made.id, division.id);
  expect(blocks[1]!.attrs!.appliesTo).toEqual({ model: ["6E"] });
  // As who has a 6 sees it.
  await page.getByLabel("Seen as").selectOption("as model 6");
  await expect(page.locator(".folded-away")).toHaveText(
    "2 blocks for model 6E: not for model 6",
  );
  await expect(page.getByText("The motor hums.")).toBeHidden();
  await expect(page.locator(".left-out-words")).toBeHidden();
  await page.getByLabel("Seen as").selectOption("all there is");
  await expect(page.getByText("The motor hums.").first()).toBeVisible();
});

test("a variable is made, used, renamed and changed everywhere, and taken back", async ({
  page,
  server,
}) => {
  const made = await server.post<{ id: string }>("/manuals", {
    title: "Variables",
  });
  const division = await openAt(page, server, made.id, "First chapter");
  await page.locator(".manuscript").focus();
  await page.keyboard.type("Use the ");
  await settled(page);
  await inDrawer(page, async () => {
    await page.keyboard.type("product");
    await page.keyboard.press("Tab");
    await page.keyboard.type("Tarn 6");
    await page.keyboard.press("Enter");
    await expect(page.getByLabel("Text of product")).toHaveValue("Tarn 6");
  });
  await page.keyboard.press("Control+;");
  await page.keyboard.press("v");
  await page.keyboard.type("product");
  await page.keyboard.press("Enter");
  await page.keyboard.type(" well.");
  await settled(page);
  await expect
    .poll(() => divisionText(server, made.id, "Chapter"))
    .toContain("Use the Tarn 6 well.");
  await inDrawer(page, async () => {
    await page.getByLabel("Take out product").click();
    await expect(
      page.getByText("“product” stands in one block still."),
    ).toBeVisible();
    await page.getByLabel("Text of product").fill("Tarn 6E");
    await page.keyboard.press("Enter");
    await page.getByLabel("Name of the variable product").fill("ferry");
    await page.keyboard.press("Enter");
    await expect(page.getByLabel("Text of ferry")).toHaveValue("Tarn 6E");
    await page.getByLabel("Where ferry is used: 1").click();
    await expect(page.getByText("First chapter Use the")).toBeVisible();
  });
  await expect
    .poll(() => divisionText(server, made.id, "Chapter"))
    .toContain("Use the Tarn 6E well.");
  await page.locator(".manuscript").focus();
  await page.keyboard.press("Control+z");
  await expect(page.getByText("Taken back: Renaming")).toBeVisible();
  expect(
    JSON.stringify(await blocksOf(server, made.id, division.id)),
  ).toContain('"product"');
});

test("blocks become a passage, used a second time, typed in place and seen in both places, and made plain again", async ({
  page,
  server,
}) => {
  const made = await server.post<{ id: string }>("/manuals", {
    title: "Passages",
  });
  const division = await openAt(page, server, made.id, "First chapter");
  await page.locator(".manuscript").focus();
  await page.keyboard.type("Before.");
  await page.keyboard.press("Enter");
  await page.keyboard.type("Lamps burn.");
  await page.keyboard.press("Enter");
  await page.keyboard.type("After.");
  await settled(page);
  await page.keyboard.press("ArrowUp");
  await page.keyboard.press("Control+.");
  await page.keyboard.press("p");
  await page.keyboard.type("Lamps");
  await page.keyboard.press("Enter");
  const uses = page.locator(".manuscript > .passage");
  await expect(uses).toHaveCount(1);
  await expect(uses).toContainText("Lamps burn.");
  // A second use, at the end.
  await page.locator(".manuscript").first().focus();
  await page.locator(".manuscript > p").last().click();
  await page.keyboard.press("End");
  await page.keyboard.press("Control+;");
  await page.keyboard.press("s");
  await page.keyboard.press("Enter");
  await expect(uses).toHaveCount(2);
  await settled(page);
  await expect
    .poll(() => divisionText(server, made.id, "Chapter"))
    .toMatch(/Lamps burn\.[^]*After\.[^]*Lamps burn\./);
  // Typed in the first, in place.
  await uses.first().locator(".passage-name").click();
  await page.keyboard.press("Enter");
  const inner = uses.first().getByRole("textbox", { name: "Text of Lamps" });
  await expect(inner).toBeFocused();
  await page.keyboard.press("End");
  await page.keyboard.type(" All night.");
  await page.keyboard.press("Escape");
  await expect(inner).toHaveCount(0);
  await expect(uses.nth(1)).toContainText("Lamps burn. All night.");
  await expect
    .poll(() => divisionText(server, made.id, "Chapter"))
    .toMatch(/All night\.[^]*All night\./);
  // The first becomes plain text; the other stays a use.
  await uses.first().locator(".passage-name").click();
  await page.getByRole("button", { name: "Make it plain text" }).click();
  await expect(uses).toHaveCount(1);
  await settled(page);
  expect((await blocksOf(server, made.id, division.id)).map(textOf)).toEqual([
    "Before.",
    "Lamps burn. All night.",
    "After.",
    "",
    "",
  ]);
  await expect
    .poll(() => divisionText(server, made.id, "Chapter"))
    .toMatch(/Lamps burn\. All night\.[^]*Lamps burn\. All night\./);
});

test("a picture is replaced wherever it stands, and who points at a table is told in its margin", async ({
  page,
  server,
}) => {
  const { id } = await server.post<{ id: string }>("/manuals/sample", {});
  const division = await openAt(page, server, id, "Winch and brake");
  await settled(page);
  await page.keyboard.press("F3");
  const drawer = page.getByRole("region", { name: "Pictures" });
  const row = drawer.locator("li", { hasText: "windows.svg" });
  await expect(row).toContainText("a drawing");
  await row
    .getByLabel("Another picture wherever windows.svg stands")
    .setInputFiles({
      name: "scales.svg",
      mimeType: "image/svg+xml",
      buffer: Buffer.from(
        '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 40 20"><rect width="40" height="20"/></svg>',
      ),
    });
  const assets = async () =>
    (await blocksOf(server, id, division.id))
      .filter((b) => b.type === "figure")
      .map((b) => b.attrs.asset);
  await expect.poll(assets).toContain("scales.svg");
  expect(await assets()).not.toContain("windows.svg");
  await expect(row).toContainText("not used");
  await page.keyboard.press("Escape");
  await page.locator(".manuscript").focus();
  await page.keyboard.press("Control+z");
  await expect.poll(assets).toContain("windows.svg");
  // From what is pointed at to who points there.
  await settled(page);
  await page
    .locator(".beside button", { hasText: "reference" })
    .first()
    .click();
  const who = page.getByRole("dialog", { name: "Who points here" });
  await expect(who).toBeVisible();
  await page.keyboard.press("Enter");
  await expect(who).toHaveCount(0);
  await expect(page.locator(".manuscript").first()).toBeFocused();
});

test("the proof follows the caret inside a passage that is typed in place, and a click on a page goes there", async ({
  page,
  server,
}) => {
  const made = await server.post<{ id: string }>("/manuals", {
    title: "Long passages",
  });
  const first = (await proofOf(server, made.id)).divisions.find(
    (d) => d.kind === "Chapter",
  )!;
  const ids = Array.from({ length: 40 }, (_, n) => `${made.id}p${n}`);
  await server.post(`/manuals/${made.id}/batches`, {
    id: randomUUID(),
    writer: "w",
    label: "Typing",
    joined: null,
    blocks: ids.map((id, n) => ({
      id,
      division: first.id,
      basedOn: 0,
      body: JSON.stringify({
        type: "paragraph",
        attrs: { id, role: "body" },
        content: [
          {
            type: "text",
            text: `Rule ${n} for all who work on deck. `.repeat(8),
          },
        ],
      }),
      after: n === 0 ? "" : ids[n - 1],
      deleted: false,
    })),
  });
  await server.post(`/manuals/${made.id}/kept-once`, {
    id: randomUUID(),
    writer: "w",
    do: "addPassage",
    name: "Rules",
    rows: ids,
  });
  await openAt(page, server, made.id, first.title);
  await settled(page);
  const shown = page.locator(".proof .page").first();
  const begin = await shown.getAttribute("data-folio");
  const use = page.locator(".manuscript > .passage");
  await use.locator(".passage-name").click();
  await page.keyboard.press("Enter");
  const inner = use.getByRole("textbox", { name: "Text of Rules" });
  await expect(inner).toBeFocused();
  await inner.locator("p").last().click();
  await expect(shown).not.toHaveAttribute("data-folio", begin!);
  const end = await shown.getAttribute("data-folio");
  await page.keyboard.press("End");
  await page.keyboard.type("!");
  await settled(page);
  await expect(shown).toHaveAttribute("data-folio", end!);
  await inner.locator("p").first().click();
  await expect(shown).toHaveAttribute("data-folio", begin!);
  // A page that begins inside the passage leads to its use, not to the top of the chapter.
  await page.keyboard.press("Escape");
  await page.getByRole("button", { name: "Page after" }).click();
  await expect(use).toBeInViewport();
});

test("a chapter has a short title for its running heads, taken back by one key", async ({
  page,
  server,
}) => {
  const { id } = await server.post<{ id: string }>("/manuals/sample", {});
  await openAt(page, server, id, "Winch and brake");
  await settled(page);
  await page
    .getByLabel("Short title for running heads")
    .fill("Winch, in short");
  await page.keyboard.press("Enter");
  await expect(page.locator(".manuscript").first()).toBeFocused();
  const running = async () => {
    const proof = await proofOf(server, id);
    const own = proof.divisions.find((d) => d.title === "Winch and brake")!;
    return pageText(
      server,
      id,
      proof.runs[0]!.inserted[own.firstSheet + 1]!.key,
    );
  };
  await expect.poll(running).toContain("Winch, in short");
  await page.keyboard.press("Control+z");
  await expect.poll(running).not.toContain("Winch, in short");
  await expect(page.getByLabel("Short title for running heads")).toHaveValue(
    "",
  );
});
