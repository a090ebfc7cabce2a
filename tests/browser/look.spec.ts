// The look of a manual in a designer's hands: every job by keyboard or mouse, seen on the pages, kept or taken back.
import { readFileSync } from "node:fs";
import type { Page } from "@playwright/test";
import { openAt, proofOf, typeInto } from "./desk";
import { expect, test, type KivrenServer } from "./server";

async function openLook(page: Page, server: KivrenServer, manual: string) {
  await page.goto(`${server.url}/#/${manual}/look`);
  await expect(page.locator(".sheet svg").first()).toBeVisible();
}

const pageCount = async (server: KivrenServer, manual: string) =>
  (await proofOf(server, manual)).pageCount;

interface Look {
  masters: {
    name: string;
    basedOn?: string;
    inner?: number | string;
    fields?: { edge: string; place: string; pattern: string }[];
    [name: string]: unknown;
  }[];
  sequences: Record<string, { begins: string; pages?: unknown }>;
  [name: string]: unknown;
}

/** The look that the manual wears now. */
async function worn(server: KivrenServer, manual: string): Promise<Look> {
  const view = await server.get<{
    value: { looks: { name: string; isWorn: boolean }[] };
    looks: { name: string; isWorn: boolean }[];
  }>(`/manuals/${manual}/look`);
  const name = (view.looks ?? view.value.looks).find((l) => l.isWorn)!.name;
  return server.get(
    `/manuals/${manual}/look/file?name=${encodeURIComponent(name)}`,
  );
}

const part = (page: Page, name: string) =>
  page.getByRole("toolbar", { name: "Parts of the look" }).getByRole("button", {
    name: new RegExp(`^${name}( on |\\s*(changed|comes out)|\\s*$)`),
  });
const settings = (page: Page) =>
  page.getByRole("region", { name: /^Settings of/ });
const keep = async (page: Page) => {
  await page.getByRole("button", { name: "Keep", exact: true }).click();
  await expect(page.getByText("nothing is changed")).toBeVisible();
};
const told = (page: Page) => page.locator("[data-compared]");

test("another look is tried on by keyboard, compared, taken off, and kept", async ({
  page,
  server,
}) => {
  const manual = await server.demo();
  const before = await pageCount(server, manual);
  await openLook(page, server, manual);
  await typeInto(
    page,
    page.getByRole("button", { name: "Try on another" }),
    "Pock",
  );
  await page.keyboard.press("Enter");
  // Paper of 105 by 148 millimetres, before anybody else sees it.
  const svg = page.locator(".sheet svg").first();
  await expect(svg).toHaveAttribute("viewBox", /^0 0 297\.6/);
  await expect(told(page)).toContainText("page");
  expect(await pageCount(server, manual)).toBe(before);
  await page.getByRole("button", { name: "Back to as it was" }).click();
  await expect(svg).toHaveAttribute("viewBox", /^0 0 419\.5/);
  // Taken back, it is tried on again; and kept.
  await page.keyboard.press("Control+z");
  await expect(svg).toHaveAttribute("viewBox", /^0 0 297\.6/);
  await page.keyboard.press("Control+Enter");
  await expect
    .poll(async () => ((await worn(server, manual)) as { name: string }).name)
    .toBe("Pocket");
  await expect(page.getByText("Putting on “Pocket”").first()).toBeVisible();
  await openAt(page, server, manual, "Before the first crossing");
});

test("a look is given to a file, refused with each fault, and tried on when it is mended", async ({
  page,
  server,
}) => {
  const manual = await server.demo();
  await openLook(page, server, manual);
  const [given] = await Promise.all([
    page.waitForEvent("download"),
    page.getByRole("link", { name: "to a file" }).click(),
  ]);
  expect(given.suggestedFilename()).toBe("Workshop, A5.kivrenlook");
  const text = readFileSync(await given.path(), "utf8");
  const put = (name: string, look: string) =>
    page.getByLabel("A look’s file").setInputFiles({
      name,
      mimeType: "application/json",
      buffer: Buffer.from(look),
    });
  await put(
    "broken.kivrenlook",
    text
      .replace('"148 mm"', '"wide"')
      .replace('"levelFacing": true', '"levelFacing": "yes"'),
  );
  const faults = page.getByRole("alert").filter({ hasText: "not worn" });
  await expect(faults).toContainText(
    "broken.kivrenlook is not worn: 2 faults.",
  );
  await expect(faults).toContainText("masters[0].width");
  await expect(faults).toContainText("levelFacing");
  await put("notes.kivrenlook", "no look at all");
  await expect(faults).toContainText("cannot be read from line 1");

  const before = await pageCount(server, manual);
  await put(
    "ours.kivrenlook",
    text
      .replace('"148 mm"', '"176 mm"')
      .replace('"210 mm"', '"250 mm"')
      .replace('"name": "Workshop, A5"', '"name": "Ours"'),
  );
  await expect(faults).toHaveCount(0);
  await keep(page);
  await expect.poll(() => pageCount(server, manual)).not.toBe(before);
  // It is there after a restart of the view, and goes along in the package.
  await page.reload();
  await expect(page.locator(".name b")).toHaveText("Ours");
  await expect(page.locator(".sheet svg").first()).toHaveAttribute(
    "viewBox",
    /^0 0 498\.8/,
  );
});

test("the appendix has a layout made from the chapter's, and its landscape sister for a wide table", async ({
  page,
  server,
}) => {
  const manual = await server.demo();
  await openLook(page, server, manual);
  await part(page, "Right").click();
  await page.getByRole("button", { name: "New one based on it" }).click();
  const set = settings(page);
  await set.getByLabel("name of the layout", { exact: true }).fill("Appendix");
  await page.keyboard.press("Enter");
  await expect(part(page, "Appendix").first()).toBeVisible();
  await set.getByLabel("inner margin", { exact: true }).fill("30");
  await set.getByLabel("outer margin", { exact: true }).fill("25");
  await page.keyboard.press("Enter");
  await page.getByRole("button", { name: "Landscape sister" }).click();
  await expect(set.getByLabel("width of the paper")).toHaveValue("210");
  await set.getByLabel("running head, from the upper edge").fill("8");
  await page.keyboard.press("Enter");
  // Of the two parts of this name the second is the kind of division.
  await part(page, "Appendix").last().click();
  await set.getByText("layouts of its pages").click();
  await set.getByLabel("said here").check();
  await set.getByLabel("right-hand pages").selectOption("Appendix");
  await set
    .getByLabel("pages turned for a wide table")
    .selectOption("Appendix, landscape");
  await page.getByRole("button", { name: "appendix", exact: true }).click();
  await expect(page.locator(".sheet").first()).toBeVisible();
  await keep(page);
  const look = await worn(server, manual);
  expect(look.sequences.appendix!.pages).toEqual({
    recto: "Appendix",
    landscape: "Appendix, landscape",
  });
  const appendix = (await proofOf(server, manual)).divisions.find(
    (d) => d.kind === "Appendix",
  )!;
  const layouts = async () =>
    (
      await server.post<{ pages: { layout: string }[] }>(
        `/manuals/${manual}/look/glimpse`,
        { file: null, division: appendix.id, page: 0 },
      )
    ).pages.map((p) => p.layout);
  await expect.poll(layouts).toContain("Appendix");
});

test("running heads: the second goes, the version comes in its place, the folio goes to the outer foot under a rule", async ({
  page,
  server,
}) => {
  const manual = await server.demo();
  await openLook(page, server, manual);
  // The page is pressed where the running head stands.
  const left = page.locator(".page").first();
  const box = (await left.locator(".sheet").boundingBox())!;
  await page.mouse.click(box.x + box.width * 0.78, box.y + box.height * 0.07);
  await expect(part(page, "Left")).toHaveAttribute("aria-current", "true");
  const set = settings(page);
  await set.getByText("Head, inner: {division}").click();
  const second = set.locator("details[open]");
  await second
    .getByLabel("words and sources")
    .fill("Release {variable:release}");
  await page.keyboard.press("Enter");
  await expect(left).toContainText("Release");
  // The folio, by keyboard: found by its words, set by keys.
  await part(page, "Right").click();
  await set.getByText("Head, outer: {folio}").click();
  await set
    .locator("details[open]")
    .getByLabel("at the head, at the foot, or free")
    .focus();
  await page.keyboard.press("f");
  await expect(set.getByText("Foot, outer: {folio}")).toBeVisible();
  const rule = set.getByLabel("gap to the rule over the foot; 0 for none");
  await rule.focus();
  await page.keyboard.press("Shift+ArrowUp");
  await expect(rule).not.toHaveValue("0");
  await expect(page.getByLabel("Search all settings")).toBeVisible();
  await expect(told(page)).toContainText("as many pages");
  await keep(page);
  const look = await worn(server, manual);
  expect(look.masters[0]!.fields!.map((f) => f.edge + f.place)).toEqual([
    "headinner",
    "footouter",
  ]);
  expect(look.masters[0]!.footRuleGap).toBe("1 mm");
  expect(look.masters[1]!.fields![1]!.pattern).toBe(
    "Release {variable:release}",
  );
});

test("margins are dragged and moved by keys, with pages and loose ends before and after", async ({
  page,
  server,
}) => {
  const manual = await server.demo();
  const before = await pageCount(server, manual);
  await openLook(page, server, manual);
  const handle = page.getByRole("button", { name: /^Inner margin of page/ });
  const at = (await handle.last().boundingBox())!;
  await page.mouse.move(at.x + at.width / 2, at.y + at.height / 2);
  await page.mouse.down();
  for (let by = 4; by <= 40; by += 4)
    await page.mouse.move(at.x + at.width / 2 + by, at.y + at.height / 2);
  await page.mouse.up();
  await expect(told(page)).toContainText("Right: inner margin");
  await expect(page.locator(".bar.now .otherwise").first()).toBeVisible();
  const dragged = await handle.last().getAttribute("aria-label");
  expect(dragged).not.toContain("22.6");
  await handle.last().focus();
  await page.keyboard.press("ArrowRight");
  await expect(handle.last()).not.toHaveAttribute("aria-label", dragged!);
  // A drag is one act: the key and the drag are taken back by two.
  await page.keyboard.press("Control+z");
  await page.keyboard.press("Control+z");
  await expect(handle.last()).toHaveAttribute("aria-label", /22\.6 mm/);
  await expect(
    page.getByRole("button", { name: "Keep", exact: true }),
  ).toBeDisabled();
  await page.keyboard.press("Control+y");
  await keep(page);
  await expect.poll(() => pageCount(server, manual)).not.toBe(before);
  const count = await pageCount(server, manual);
  // Kept, it is an act like any other.
  await page.keyboard.press("Control+z");
  await expect.poll(() => pageCount(server, manual)).toBe(before);
  await page.keyboard.press("Control+y");
  await expect.poll(() => pageCount(server, manual)).toBe(count);
});

test("heads, bullets, the index and openings are set, found by their words", async ({
  page,
  server,
}) => {
  const manual = await server.demo();
  const before = await pageCount(server, manual);
  await openLook(page, server, manual);
  const set = settings(page);
  await page.keyboard.press("/");
  await page.keyboard.type("space above A head");
  await page.keyboard.press("Enter");
  await expect(set.getByLabel("space above", { exact: true })).toBeFocused();
  await page.keyboard.press("ArrowUp");
  await expect(set.getByLabel("space above", { exact: true })).toHaveValue(
    "19.75",
  );
  await set.getByLabel("space above", { exact: true }).fill("2 lines");
  await page.keyboard.press("Enter");
  await expect(set.getByLabel("space above", { exact: true })).toHaveValue(
    "26",
  );
  await set.getByLabel("face", { exact: true }).selectOption("serif");

  await part(page, "Lists and steps").click();
  await set.getByLabel("bullets by depth 1").fill("▪");
  await page.keyboard.press("Enter");
  await set.getByLabel("bullets by depth 2").fill("•");
  await page.keyboard.press("Enter");

  await part(page, "Index").last().click();
  await set.getByLabel("columns", { exact: true }).fill("3");
  await page.keyboard.press("Enter");
  await set.getByLabel("face", { exact: true }).last().selectOption("serif");

  await part(page, "Chapter").click();
  await set.getByLabel("where it starts").selectOption("newPage");
  await expect(told(page)).toContainText("more");
  await keep(page);
  const look = (await worn(server, manual)) as Look & {
    heads: { before: number; face: string }[];
    bullets: string[];
    index: { columns: number; group: { face: string } };
  };
  expect(look.heads[0]).toMatchObject({ before: 26, face: "serif" });
  expect(look.bullets).toEqual(["▪", "•"]);
  expect(look.index.columns).toBe(3);
  expect(look.index.group.face).toBe("serif");
  expect(look.sequences.chapter!.begins).toBe("newPage");
  await expect.poll(() => pageCount(server, manual)).not.toBe(before);
});

test("what an answer says moves nothing that may be pressed meanwhile", async ({
  page,
  server,
}) => {
  const manual = await server.demo();
  await openLook(page, server, manual);
  await part(page, "Right").click();
  const set = settings(page);
  const outer = set.getByLabel("outer margin", { exact: true });
  const heights = async () => [
    (await part(page, "Chapter").boundingBox())!.y,
    (await outer.boundingBox())!.y,
    (await page.locator(".sheet").first().boundingBox())!.y,
  ];
  const before = await heights();
  // A line so short that lines of code run over it, and then one that cannot be.
  await outer.fill("80");
  await page.keyboard.press("Enter");
  await expect(told(page)).toContainText("pages");
  await expect(set.locator(".doubts button").first()).toBeVisible();
  expect(await heights()).toEqual(before);
  await outer.fill("140");
  await page.keyboard.press("Enter");
  await expect(page.getByText("This cannot be worn")).toBeVisible();
  expect((await heights()).slice(0, 1)).toEqual(before.slice(0, 1));
});

test("what cannot be is said where it is, and never worn", async ({
  page,
  server,
}) => {
  const manual = await server.demo();
  await openLook(page, server, manual);
  const set = settings(page);
  const wrong = page.getByRole("alert").filter({ hasText: "cannot be worn" });
  const button = page.getByRole("button", { name: "Keep", exact: true });
  await part(page, "Right").click();
  await set.getByLabel("inner margin", { exact: true }).fill("140");
  await page.keyboard.press("Enter");
  await expect(wrong).toContainText("points are left for a line");
  await expect(button).toBeDisabled();
  await page.keyboard.press("Control+z");
  await expect(wrong).toHaveCount(0);
  await set.getByLabel("columns", { exact: true }).fill("40");
  await page.keyboard.press("Enter");
  await expect(set.getByText("from 1 to 4, not 40")).toBeVisible();
  await page.keyboard.press("Control+z");
  await part(page, "A head").click();
  await set.getByLabel("size", { exact: true }).fill("400");
  await page.keyboard.press("Enter");
  await expect(wrong).toContainText("from 4 to 144 points");
  await wrong.getByRole("button").first().click();
  await expect(set.getByLabel("size", { exact: true })).toBeFocused();
  await page.keyboard.press("Control+z");
  // What is no measure is not taken.
  await set.getByLabel("size", { exact: true }).fill("large");
  await page.keyboard.press("Enter");
  await expect(set.getByLabel("size", { exact: true })).toHaveValue("13.5");
  await part(page, "Left").click();
  await set.getByLabel("has the rest from").selectOption("Opening");
  await expect(wrong).toContainText("stands before it");
  await page.getByRole("button", { name: "Back to as it was" }).click();
  await expect(wrong).toHaveCount(0);
  await expect(button).toBeDisabled();
});

test("of two who change one look at once the second is told, and holds what is theirs", async ({
  page,
  browser,
  server,
}) => {
  const manual = await server.demo();
  await openLook(page, server, manual);
  const other = await (await browser.newContext()).newPage();
  await openLook(other, server, manual);
  const before = (
    (await worn(server, manual)) as Look & { heads: { before: number }[] }
  ).heads[1].before;
  await part(page, "A head").click();
  await settings(page).getByLabel("space above", { exact: true }).fill("30");
  await page.keyboard.press("Enter");
  await expect(told(page)).toBeVisible();
  await part(other, "B head").click();
  await settings(other).getByLabel("space above", { exact: true }).fill("20");
  await other.keyboard.press("Enter");
  await keep(other);
  const warned = page.getByRole("alert").filter({ hasText: "Somebody else" });
  await expect(warned).toBeVisible();
  await page.keyboard.press("Control+Enter");
  await expect(
    page.getByText("Yours is held here", { exact: false }).first(),
  ).toBeVisible();
  await expect(
    settings(page).getByLabel("space above", { exact: true }),
  ).toHaveValue("30");
  // A closed tab does not lose it either.
  await page.reload();
  await expect(warned).toBeVisible();
  await warned.getByRole("button", { name: "Put mine over theirs" }).click();
  await expect(warned).toHaveCount(0);
  const look = (await worn(server, manual)) as Look & {
    heads: { before: number }[];
  };
  expect(look.heads[0].before).toBe(30);
  expect(look.heads[1].before).toBe(before);
  await other.context().close();
});

test("the view of the look is whole at 1024 pixels and turns its spreads by key", async ({
  page,
  server,
}) => {
  const manual = await server.demo();
  await page.setViewportSize({ width: 1024, height: 700 });
  await openLook(page, server, manual);
  expect(
    await page.evaluate(
      () =>
        document.documentElement.scrollWidth <=
        document.documentElement.clientWidth,
    ),
  ).toBe(true);
  await page.getByRole("button", { name: "index", exact: true }).click();
  const spread = page.getByRole("group", { name: /^Pages/ });
  const first = page.locator(".page").first();
  const at = await first.getAttribute("data-sheet");
  await spread.focus();
  await page.keyboard.press("PageDown");
  await expect(first).not.toHaveAttribute("data-sheet", at!);
});

test("on the shelf a look is copied, taken from a document, given to a second manual, and changed for both", async ({
  page,
  server,
}) => {
  const [manual, second] = [await server.demo(), await server.demo()];
  await page.goto(`${server.url}/#/`);
  await page.getByRole("button", { name: "Looks…" }).click();
  const dialog = page.getByRole("dialog", { name: "Looks" });
  await expect(dialog.locator(".spread svg").nth(4)).toBeVisible();
  await dialog
    .getByLabel("File to take a look from")
    .setInputFiles("../../demo/import/workshop-notes.docx");
  await expect(
    dialog.getByText("“workshop-notes” was made of the document."),
  ).toBeVisible();
  await dialog.getByRole("button", { name: /Workshop, A5/ }).click();
  await dialog.getByRole("button", { name: "Copy …" }).click();
  const name = `Ours ${manual.slice(0, 6)}`;
  await dialog.getByLabel("Name of the copy").fill(name);
  await page.keyboard.press("Enter");
  await dialog.getByRole("button", { name: "Give to manuals" }).click();
  const boxes = dialog.getByRole("checkbox");
  for (const id of [manual, second])
    await dialog.locator(`input[type=checkbox][value="${id}"]`).check();
  await expect(boxes.first()).toBeVisible();
  await dialog.getByRole("button", { name: "See what it comes to" }).click();
  await expect(dialog.getByText(/→ \d+ pages/).first()).toBeVisible();
  await dialog.getByRole("button", { name: "Put on in 2 manuals" }).click();
  await expect(
    dialog.getByText("Worn by", { exact: false }).first(),
  ).toBeVisible();
  await page.keyboard.press("Escape");

  // Changed in one, the others are asked about.
  await openLook(page, server, manual);
  await expect(page.locator(".name b")).toHaveText(name);
  await part(page, "A head").click();
  await settings(page).getByLabel("space above", { exact: true }).fill("30");
  await page.keyboard.press("Enter");
  await page.getByRole("button", { name: "Keep", exact: true }).click();
  const asked = page.getByRole("dialog", { name: /worn by others/ });
  await asked.getByRole("button", { name: "See what it comes to" }).click();
  await expect(asked.getByText(/→ \d+ pages/)).toBeVisible();
  await asked.getByRole("button", { name: "Put on in 1 manual" }).click();
  await expect(asked).toHaveCount(0);
  const heads = async (id: string) =>
    ((await worn(server, id)) as Look & { heads: { before: number }[] })
      .heads[0]!.before;
  expect(await heads(second)).toBe(30);
  expect(await heads(manual)).toBe(30);
  // The shelf has the older one: what that would change is seen, and left.
  await expect(
    page.getByText("The shelf has another version of this look."),
  ).toBeVisible();
  await page.getByRole("button", { name: "on the shelf" }).click();
  await expect(
    page.getByText("The shelf has another version of this look."),
  ).toHaveCount(0);
});

test("heads are in the firm's own face and colour; a file that may not be used is refused with why", async ({
  page,
  server,
}) => {
  const manual = await server.demo();
  await openLook(page, server, manual);
  await part(page, "Colours").click();
  await settings(page).getByRole("button", { name: "Add one" }).click();
  await settings(page).getByLabel("on screens, six digits").fill("#1f3a5f");
  await page.keyboard.press("Tab");
  await part(page, "The house’s faces").click();
  await settings(page).getByRole("button", { name: "Add one" }).click();
  const font = readFileSync(
    new URL(
      "../../src/Kivren.Core/Type/Faces/SourceCodePro_600SemiBold.ttf",
      import.meta.url,
    ),
  );
  const file = settings(page).locator("input[type=file]").first();
  // What the maker does not allow (fsType 2 in the table OS/2), and what is no font at all.
  const restricted = Buffer.from(font);
  const tables = restricted.readUInt16BE(4);
  for (let t = 0; t < tables; t++)
    if (restricted.toString("latin1", 12 + t * 16, 16 + t * 16) === "OS/2")
      restricted.writeUInt16BE(2, restricted.readUInt32BE(20 + t * 16) + 8);
  await file.setInputFiles({
    name: "Held.ttf",
    mimeType: "font/ttf",
    buffer: restricted,
  });
  await expect(
    page.getByText(/Held\.ttf: its maker does not allow/),
  ).toBeVisible();
  await file.setInputFiles({
    name: "Not.ttf",
    mimeType: "font/ttf",
    buffer: Buffer.from("This is no font."),
  });
  await expect(page.getByText(/Not\.ttf: this is no font file/)).toBeVisible();
  await file.setInputFiles({
    name: "Firm Sans.ttf",
    mimeType: "font/ttf",
    buffer: font,
  });
  await expect(settings(page).getByText("Firm Sans.ttf")).toBeVisible();
  await part(page, "A head").click();
  await settings(page)
    .getByLabel("face", { exact: true })
    .selectOption("House face");
  await settings(page)
    .getByLabel("colour", { exact: true })
    .selectOption("heads");
  const head = page.locator('.sheet text[font-family^="Kivren house-"]');
  await expect(head.first()).toHaveAttribute("fill", "#1f3a5f");
  // The very letters of the file are drawn, not those of a face that the browser found instead.
  await expect
    .poll(() =>
      page.evaluate(() =>
        [...document.fonts].some(
          (f) => f.family.includes("house-") && f.status === "loaded",
        ),
      ),
    )
    .toBe(true);
  await keep(page);
  const look = await worn(server, manual);
  expect((look.faces as { name: string }[])[0]!.name).toBe("House face");
  // The file that is given away has the font in it, and is worn elsewhere.
  const answer = await page.request.get(
    `${server.url}/api/manuals/${manual}/look/file?name=${encodeURIComponent(look.name as string)}&whole=true`,
  );
  expect(await answer.text()).toContain("faceFiles");
});

test("a role gets a dress only where it stands, and loses it again; paragraphs keep, are ruled and tinted", async ({
  page,
  server,
}) => {
  const manual = await server.demo();
  await openLook(page, server, manual);
  await part(page, "Another role …").click();
  const set = settings(page);
  await set.getByLabel("role", { exact: true }).fill("lead");
  await set.getByLabel("in divisions").selectOption("chapter");
  await set.getByRole("button", { name: "Dress it" }).click();
  await expect(
    page.getByRole("heading", { name: "Lead of chapter" }),
  ).toBeVisible();
  await set.getByLabel("tint behind it: 0 black, 100 none").fill("90");
  await page.keyboard.press("Tab");
  await set.getByLabel("keeps with two lines of what follows").check();
  await keep(page);
  const dresses = (await worn(server, manual)).dresses as {
    role: string;
    division?: string;
    dress: { tint?: number; keepsNext?: boolean };
  }[];
  expect(dresses.at(-1)).toEqual({
    role: "lead",
    division: "chapter",
    dress: { tint: 90, keepsNext: true },
  });
  await set.getByRole("button", { name: "Take this dress out" }).click();
  await keep(page);
  expect(((await worn(server, manual)).dresses as unknown[]).length).toBe(
    dresses.length - 1,
  );
});

test("an earlier version of a look on the shelf is told apart and brought back", async ({
  page,
  server,
}) => {
  await server.demo();
  await page.goto(`${server.url}/#/`);
  await page.getByRole("button", { name: "Looks…" }).click();
  const dialog = page.getByRole("dialog", { name: "Looks" });
  await dialog.getByRole("button", { name: /^Pocket/ }).click();
  await dialog.getByRole("button", { name: "Copy …" }).click();
  await dialog.getByLabel("Name of the copy").fill("Pocket, ours");
  await page.keyboard.press("Enter");
  const file = async () =>
    (await (
      await page.request.get(
        `${server.url}/api/looks/file?name=${encodeURIComponent("Pocket, ours")}`,
      )
    ).json()) as { sink: number };
  await expect(
    dialog.getByRole("heading", { name: "Pocket, ours" }),
  ).toBeVisible();
  const was = (await file()).sink;
  await dialog.getByLabel("File to take a look from").setInputFiles({
    name: "ours.kivrenlook",
    mimeType: "application/json",
    buffer: Buffer.from(JSON.stringify({ ...(await file()), sink: was + 9 })),
  });
  await expect(dialog.getByText("version 2").first()).toBeVisible();
  await dialog.getByRole("button", { name: "Earlier versions …" }).click();
  await expect(dialog.getByText("how far an opening is sunk")).toBeVisible();
  await dialog.getByRole("button", { name: "Bring back" }).click();
  await expect(dialog.getByText("version 3").first()).toBeVisible();
  expect((await file()).sink).toBe(was);
});
