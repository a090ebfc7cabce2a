import type { Page } from "@playwright/test";
import {
  blocksOf,
  divisionText,
  openAt,
  pageText,
  proofOf,
  settled,
  textOf,
  type StoredNode,
} from "./desk";
import { expect, test, type KivrenServer } from "./server";

/** A new manual with its first chapter open and the caret in it. */
async function opened(page: Page, server: KivrenServer, title: string) {
  const made = await server.post<{ id: string }>("/manuals", { title });
  const division = await openAt(page, server, made.id, "First chapter");
  await page.locator(".manuscript").focus();
  return {
    stored: () => blocksOf(server, made.id, division.id),
    proof: () => proofOf(server, made.id),
    printed: () => divisionText(server, made.id, "Chapter"),
  };
}

const put = async (page: Page, key: string) => {
  await page.keyboard.press("Control+;");
  await page.keyboard.press(key);
};
const inside = (node: StoredNode, type: string): StoredNode[] => [
  ...(node.type === type ? [node] : []),
  ...(node.content ?? []).flatMap((c) => inside(c, type)),
];

test("terms, an aside, an example and a reference list are typed by keys alone", async ({
  page,
  server,
}) => {
  const { stored, printed } = await opened(page, server, "Blocks");
  await page.keyboard.type("Before.");
  await put(page, "d");
  await page.keyboard.type("bollard");
  await page.keyboard.press("Enter");
  await page.keyboard.type("What a line is made fast to.");
  await page.keyboard.press("Enter");
  await page.keyboard.press("Enter");
  await page.keyboard.type("painter");
  await page.keyboard.press("Enter");
  await page.keyboard.type("The line at the bow.");
  await page.keyboard.press("Control+Enter");
  await put(page, "b");
  await page.keyboard.type("On knots");
  await page.keyboard.press("ArrowDown");
  await page.keyboard.type("A knot that slips is no knot.");
  await page.keyboard.press("Control+Enter");
  await put(page, "e");
  await page.keyboard.type("A round turn");
  await page.keyboard.press("Control+Enter");
  await put(page, "r");
  await page.keyboard.type("Cable ferries");
  await page.keyboard.press("Control+.");
  await page.keyboard.press(",");
  await page.getByLabel("Its designation").fill("CF-2");
  await page.keyboard.press("Enter");
  await page.keyboard.press("Enter");
  await page.keyboard.type("Ropes");
  await page.keyboard.press("Enter");
  await page.keyboard.press("Enter");
  await page.keyboard.type("After all.");
  await settled(page);
  const blocks = await stored();
  expect(blocks.map((b) => b.type)).toEqual([
    "paragraph",
    "definitions",
    "aside",
    "example",
    "references",
    "paragraph",
  ]);
  expect(inside(blocks[1]!, "definition").map(textOf)).toEqual([
    "bollardWhat a line is made fast to.",
    "painterThe line at the bow.",
  ]);
  expect(textOf(blocks[2])).toBe("On knotsA knot that slips is no knot.");
  expect(
    inside(blocks[4]!, "document").map((d) => d.attrs.designation ?? ""),
  ).toEqual(["CF-2", "", ""].slice(0, inside(blocks[4]!, "document").length));
  expect(textOf(blocks[5])).toBe("After all.");
  await expect.poll(printed).toContain("CF-2");
});

test("an equation is drawn while it is typed, what cannot be read is said, and it is changed later", async ({
  page,
  server,
}) => {
  const { stored, printed, proof } = await opened(page, server, "Equations");
  await put(page, "q");
  const panel = page.getByRole("dialog", { name: "Equation" });
  await expect(panel.getByLabel("The equation")).toBeFocused();
  await page.keyboard.type("F = m v^2 / (r");
  await expect(panel.getByRole("alert")).toContainText("cannot be read");
  await page.keyboard.type(")");
  await expect(panel.getByRole("alert")).toHaveCount(0);
  await expect(panel.locator(".preview svg")).toBeVisible();
  await panel
    .getByLabel("In words, to be read aloud")
    .fill("F is m v squared over r");
  await page.keyboard.press("Enter");
  const drawn = page.locator(".manuscript .equation");
  await expect(drawn.locator("svg")).toBeVisible();
  // A letter typed while it is chosen stands behind it, and not in its place.
  await page.keyboard.type("So");
  await settled(page);
  expect((await stored()).map((b) => b.type)).toEqual([
    "equation",
    "paragraph",
    ...(await stored()).slice(2).map((b) => b.type),
  ]);
  const { looseEnds } = await proof();
  expect(looseEnds.map((l) => l.kind)).toEqual(["IndexEmpty"]);
  // In a line of text it stands in the line.
  await page.keyboard.type(" with ");
  await put(page, "q");
  await page.keyboard.type("v_0");
  await page.keyboard.press("Enter");
  await expect(drawn).toHaveCount(2);
  await drawn.first().click();
  await page.keyboard.press("Control+.");
  await panel.getByLabel("It has a number").uncheck();
  await page.keyboard.press("Enter");
  await settled(page);
  expect((await stored())[0]!.attrs.numbered).toBe(false);
  await expect.poll(printed).not.toContain("(1)");
});

test("what can be set of a listing, a table, a list and a page break is set where it stands", async ({
  page,
  server,
}) => {
  const { stored } = await opened(page, server, "Settings");
  await put(page, "l");
  await page.keyboard.type("[drum]");
  await page.keyboard.press("Enter");
  await page.keyboard.type("speed = 1");
  await page.keyboard.press("Control+.");
  await page.keyboard.press(",");
  const listing = page.getByRole("dialog", { name: "Listing" });
  await expect(listing.getByLabel("Language of the lines")).toBeFocused();
  await page.keyboard.type("INI");
  await listing.getByLabel("Lines are numbered").check();
  await listing.getByLabel("Lines set apart").fill("2-x");
  await page.keyboard.press("Enter");
  await expect(listing.getByRole("alert")).toContainText(
    "“2-x” names no lines",
  );
  await listing.getByLabel("Lines set apart").fill("2");
  await page.keyboard.press("Enter");
  await page.keyboard.press("Control+Enter");
  await put(page, "t");
  await page.keyboard.press("Enter");
  await page.keyboard.type("Line");
  await page.keyboard.press("Control+.");
  await page.keyboard.press(",");
  const table = page.getByRole("dialog", { name: "Table" });
  await expect(table.getByLabel("Widths of the columns")).toBeFocused();
  await page.keyboard.type("30 mm, 2");
  await page.keyboard.press("Enter");
  await page.keyboard.press("Control+Enter");
  await put(page, "p");
  await page.locator(".manuscript .break").click();
  await page.keyboard.press("Control+.");
  await page
    .getByRole("dialog", { name: "Page break" })
    .getByLabel("What follows begins on")
    .selectOption("The next right-hand page");
  await page.keyboard.press("Enter");
  await settled(page);
  const blocks = await stored();
  const of = (type: string) => blocks.find((b) => b.type === type)!.attrs;
  expect(of("listing")).toMatchObject({
    language: "ini",
    lineNumbers: true,
    marked: [2],
  });
  expect(of("table").widths).toEqual(["fixed 3000", "share 2"]);
  expect(of("pageBreak").to).toBe("recto");
});

test("a step has a second paragraph, and words lead to a web address", async ({
  page,
  server,
}) => {
  const { stored } = await opened(page, server, "Steps");
  await page.keyboard.type("Open the valve.");
  await page.keyboard.press("Control+.");
  await page.keyboard.press("s");
  await page.keyboard.press("End");
  await page.keyboard.press("Alt+Enter");
  await page.keyboard.type("It turns to the left; see works.example");
  for (let n = 0; n < "works.example".length; n++)
    await page.keyboard.press("Shift+ArrowLeft");
  await page.keyboard.press("Control+.");
  await page.keyboard.press("u");
  await page.keyboard.type("javascript:alert(1)");
  await page.keyboard.press("Enter");
  await expect(page.getByText("A web address begins with")).toBeVisible();
  await page.keyboard.press("Control+.");
  await page.keyboard.press("u");
  await page.keyboard.type("works.example/help");
  await page.keyboard.press("Enter");
  await page.keyboard.press("End");
  await page.keyboard.press("Enter");
  await page.keyboard.type("Close it.");
  await settled(page);
  const [steps] = await stored();
  expect(steps!.content!.map((s) => s.content!.map(textOf))).toEqual([
    ["Open the valve.", "It turns to the left; see works.example"],
    ["Close it."],
  ]);
  expect(JSON.stringify(steps)).toContain("https://works.example/help");
});

test("the line between two columns is dragged, and the page follows", async ({
  page,
  server,
}) => {
  const { id } = await server.post<{ id: string }>("/manuals/sample", {});
  const division = await openAt(page, server, id, "Winch and brake");
  await settled(page);
  const table = page.locator(".manuscript .table").first();
  await table.scrollIntoViewIfNeeded();
  const cell = table.locator("td").first();
  const before = (await cell.boundingBox())!;
  const widths = async () =>
    (await blocksOf(server, id, division.id)).find((b) => b.type === "table")!
      .attrs.widths as string[] | null;
  const was = await widths();
  const x = before.x + before.width - 1;
  const y = before.y + before.height / 2;
  await page.mouse.move(x, y);
  await page.mouse.down();
  await page.mouse.move(x - 60, y, { steps: 4 });
  // Escape leaves it as it was.
  await page.keyboard.press("Escape");
  await page.mouse.up();
  expect(await widths()).toEqual(was);
  await page.mouse.move(x, y);
  await page.mouse.down();
  await page.mouse.move(x - 60, y, { steps: 4 });
  await page.mouse.up();
  await settled(page);
  await expect.poll(widths).not.toEqual(was);
  expect((await widths())!.every((w) => w.startsWith("share "))).toBe(true);
  const after = (await cell.boundingBox())!;
  expect(after.width).toBeLessThan(before.width - 40);
  await page.locator(".manuscript > p").first().click();
  await page.keyboard.press("Control+z");
  await expect.poll(widths).toEqual(was);
});

test("a footnote takes roles, a reference, an entry and an equation by the keys of the text; what stands in it is changed there", async ({
  page,
  server,
}) => {
  const made = await server.post<{ id: string }>("/manuals", {
    title: "Full notes",
  });
  const division = await openAt(page, server, made.id, "First chapter");
  await page.locator(".manuscript").focus();
  await page.keyboard.type("Set the brake");
  await page.keyboard.press("Control+;");
  await page.keyboard.press("n");
  const bubble = page.getByRole("dialog", { name: "Footnote" });
  const note = bubble.getByRole("textbox", { name: "Text of the footnote" });
  await expect(note).toBeFocused();
  await page.keyboard.type("See ");
  await page.keyboard.press("Control+;");
  await page.keyboard.press("x");
  await page.keyboard.type("First chapter");
  await expect(
    page.getByRole("option", { name: /First chapter/ }).first(),
  ).toBeVisible();
  await page.keyboard.press("Enter");
  await expect(note).toBeFocused();
  await page.keyboard.type(" ");
  await page.keyboard.press("Control+;");
  await page.keyboard.press("i");
  await page.keyboard.type("brake");
  await page.keyboard.press("Enter");
  await expect(note).toBeFocused();
  await page.keyboard.type("by hand");
  for (let n = 0; n < 4; n++) await page.keyboard.press("Shift+ArrowLeft");
  await page.keyboard.press("Control+.");
  await page.keyboard.press("o");
  await page.keyboard.press("End");
  await page.keyboard.press("Control+;");
  await page.keyboard.press("q");
  await page.getByLabel("The equation").fill("F = m a");
  await page.keyboard.press("Enter");
  await expect(note).toBeFocused();
  await settled(page);
  const inNote = async () => {
    const [paragraph] = await blocksOf(server, made.id, division.id);
    return paragraph!.content!.find((c) => c.type === "footnote")!.content!;
  };
  const kinds = async () => (await inNote()).map((c) => c.type);
  await expect
    .poll(kinds)
    .toEqual([
      "text",
      "crossReference",
      "text",
      "indexEntry",
      "text",
      "text",
      "inlineEquation",
    ]);
  // The reference is chosen, and taken out where it stands.
  await note.locator(".reference").click();
  const bar = page.getByRole("dialog", {
    name: "Cross-reference",
    exact: true,
  });
  await expect(bar).toBeVisible();
  await page.keyboard.press("Delete");
  await expect(bubble).toBeVisible();
  await expect.poll(kinds).not.toContain("crossReference");
  await page.keyboard.press("Escape");
  await expect(bubble).toBeHidden();
  await page.keyboard.type(" and wait.");
  await settled(page);
  expect(textOf((await blocksOf(server, made.id, division.id))[0])).toContain(
    "and wait.",
  );
});

test("a paste from a word processor gives roles, one from a terminal a listing; five megabytes are refused in words, and nothing is lost", async ({
  page,
  server,
}) => {
  const made = await server.post<{ id: string }>("/manuals", {
    title: "Pastes",
  });
  const division = await openAt(page, server, made.id, "First chapter");
  const text = page.locator(".manuscript");
  await text.focus();
  const paste = (kinds: Record<string, string>, times = 1) =>
    page.evaluate(
      ([given, count]) => {
        const data = new DataTransfer();
        for (const [type, words] of Object.entries(given))
          data.setData(type, words.repeat(count));
        document.querySelector(".manuscript")!.dispatchEvent(
          new ClipboardEvent("paste", {
            clipboardData: data,
            bubbles: true,
            cancelable: true,
          }),
        );
      },
      [kinds, times] as const,
    );
  await paste({
    "text/plain": "Brake\nTurn the lever",
    "text/html":
      '<h2><b>Brake</b></h2><p>Turn the <span style="font-weight:700">lever</span>.</p><p style="x-list:l0 level1 lfo1"><span style="x-list:Ignore">1.</span>Look</p><p style="x-list:l0 level1 lfo1"><span style="x-list:Ignore">2.</span>Wait</p><p><img src="a.png"></p>',
  });
  await expect(page.getByText("A picture did not come")).toBeVisible();
  await settled(page);
  const kinds = async () =>
    (await blocksOf(server, made.id, division.id)).map((b) => b.type);
  expect((await kinds()).slice(0, 3)).toEqual(["head", "paragraph", "list"]);
  const blocks = await blocksOf(server, made.id, division.id);
  expect(JSON.stringify(blocks[0])).not.toContain("strong");
  expect(JSON.stringify(blocks[1])).toContain("strong");
  await page.keyboard.press("Control+End");
  await paste({ "text/plain": "$ winch --status\nload 4 kN\n$ winch --stop" });
  await settled(page);
  expect(await kinds()).toContain("listing");
  const before = (await kinds()).length;
  await paste({ "text/plain": "Words without end.\n\n" }, 250_000);
  await expect(page.getByText("too much for one paste")).toBeVisible();
  await page.keyboard.press("Control+End");
  await page.keyboard.type("On.");
  await settled(page);
  expect((await kinds()).length).toBeLessThan(before + 2);
  await expect(text).toContainText("Turn the lever.");
});

test("an area of a picture gets words that lead somewhere, is moved and sized, and prints a numbered key; a film, folding text and a pop-up are set", async ({
  page,
  server,
}) => {
  const { id } = await server.post<{ id: string }>("/manuals/sample", {});
  const division = await openAt(page, server, id, "Winch and brake");
  await settled(page);
  const figure = page.locator(".manuscript .figure").first();
  await figure.locator(".picture img").click({ position: { x: 5, y: 5 } });
  await page.keyboard.press("a");
  const bubble = page.getByRole("dialog", {
    name: "Area of the picture",
    exact: true,
  });
  await expect(
    bubble.getByRole("textbox", { name: "Words of the area" }),
  ).toBeFocused();
  await page.keyboard.type("the brake band, ");
  await page.keyboard.press("Control+;");
  await page.keyboard.press("x");
  await page.keyboard.type("Adjusting the band");
  await expect(
    page.getByRole("option", { name: /Adjusting the band/ }).first(),
  ).toBeVisible();
  await page.keyboard.press("Enter");
  await page.keyboard.press("Enter");
  await settled(page);
  const stored = async () =>
    (await blocksOf(server, id, division.id)).find((b) => b.type === "figure")!;
  const area = async () =>
    (await stored()).content!.find((c) => c.type === "figureArea")!;
  expect(textOf(await area())).toBe("the brake band, ");
  await expect
    .poll(async () => {
      const proof = await proofOf(server, id);
      const own = proof.divisions.find((d) => d.title === "Winch and brake")!;
      const pages = [];
      for (let s = own.firstSheet; s < own.firstSheet + own.pages; s++)
        pages.push(await pageText(server, id, proof.runs[0]!.inserted[s]!.key));
      return pages.join("\n");
    })
    .toMatch(/\n1\nthe brake band,/);
  // By the pointer: moved by its middle, sized by its corner.
  const box = figure.locator(".area");
  const at = (await box.boundingBox())!;
  await page.mouse.move(at.x + at.width / 2, at.y + at.height / 2);
  await page.mouse.down();
  await page.mouse.move(at.x + at.width / 2 - 40, at.y + at.height / 2, {
    steps: 3,
  });
  await page.mouse.up();
  await settled(page);
  expect((await area()).attrs.left as number).toBeLessThan(340);
  // By numbers.
  await figure.locator(".figure-area").click();
  await expect(bubble).toBeVisible();
  await page.keyboard.press("Escape");
  await page.keyboard.press("ArrowLeft");
  await page.keyboard.press("Control+.");
  await page.getByLabel("Width", { exact: true }).fill("50");
  await page.keyboard.press("Enter");
  await settled(page);
  expect((await area()).attrs.width).toBe(500);
  // A film that the picture stands for.
  await figure.locator(".picture img").click({ position: { x: 5, y: 5 } });
  await page.keyboard.press("Control+.");
  await page.getByLabel("A film or sound").fill("https://example.org/film");
  await page.keyboard.press("Enter");
  await settled(page);
  expect((await stored()).attrs.plays).toBe("https://example.org/film");
  // Text that folds, and a pop-up.
  await page.locator(".manuscript > p").first().click();
  await page.keyboard.press("End");
  await page.keyboard.press("Control+;");
  await page.keyboard.press("u");
  await page.keyboard.type("Only a word.");
  await page.getByLabel("On screens").selectOption("popUpOnly");
  await page.keyboard.press("Enter");
  await page.keyboard.press("Control+;");
  await page.keyboard.press("o");
  await page.keyboard.type("More on it");
  await settled(page);
  const blocks = await blocksOf(server, id, division.id);
  expect(JSON.stringify(blocks[0])).toContain('"shown":"popUpOnly"');
  expect(blocks.find((b) => b.type === "aside")!.attrs.folds).toBe("open");
  await page.locator(".manuscript .aside.folds .caption").click();
  await page.keyboard.press("Control+.");
  await page.keyboard.press(",");
  await page.getByLabel("On screens").selectOption("title");
  await page.keyboard.press("Enter");
  await settled(page);
  expect(
    (await blocksOf(server, id, division.id)).find((b) => b.type === "aside")!
      .attrs.folds,
  ).toBe("title");
});
