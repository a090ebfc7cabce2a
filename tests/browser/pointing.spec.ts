// References, the index and contents lists, worked on by keyboard.
import { expect, test, type KivrenServer } from "./server";
import {
  divisionText,
  openAt,
  pageText,
  proofOf,
  settled,
  typeInto,
} from "./desk";
import type { Page } from "@playwright/test";

interface IndexRow {
  text: string;
  depth: number;
  locators: string;
}
const indexOf = async (server: KivrenServer, manual: string) =>
  (await server.get<{ rows: IndexRow[] }>(`/manuals/${manual}/index`)).rows;

async function openView(
  page: Page,
  server: KivrenServer,
  manual: string,
  view: string,
) {
  await page.goto(`${server.url}/#/${manual}/${view}`);
  await expect(page.locator(".settled")).toContainText("pages");
}

async function openIndex(page: Page, server: KivrenServer, manual: string) {
  await openView(page, server, manual, "index");
  const headings = page.getByRole("listbox", { name: "Headings of the index" });
  await expect(headings.getByRole("option").first()).toBeVisible();
  await headings.focus();
  return headings;
}

/** Walks to a heading by the filter, as a writer does. */
async function toHeading(page: Page, words: string) {
  await page.keyboard.press("/");
  await expect(page.getByLabel("Filter headings")).toBeFocused();
  await page.keyboard.type(words);
  await page.keyboard.press("Enter");
  await expect(
    page.getByRole("listbox", { name: "Headings of the index" }),
  ).toBeFocused();
}

test("a subject is indexed from scratch with a sweep: taken, principal, left, a range; the next sweep has only the new", async ({
  page,
  server,
}) => {
  const manual = await server.demo();
  await openIndex(page, server, manual);
  await page.getByRole("button", { name: /^Sweep …/ }).focus();
  await page.keyboard.press("Enter");
  await expect(page.getByLabel("Phrase to sweep for")).toBeFocused();
  await page.keyboard.type("lip");
  await page.keyboard.press("Enter");
  const places = page.getByRole("listbox", { name: "Places of the phrase" });
  await expect(places).toBeFocused();
  const open = await places.getByRole("option").count();
  expect(open).toBeGreaterThan(3);
  await page.keyboard.press("t");
  await page.keyboard.press("r");
  await page.keyboard.press("p");
  await page.keyboard.press("l");
  await page.keyboard.press("Control+Enter");
  // The printed index has it at once, and what was decided is asked no more.
  await expect(places.getByRole("option")).toHaveCount(open - 1, {
    timeout: 10_000,
  });
  const row = (await indexOf(server, manual)).find((r) => r.text === "lip")!;
  expect(row.locators).not.toBe("");
  expect(await divisionText(server, manual, "Index")).toContain("lip");
  await page.keyboard.press("Escape");
  await page.getByRole("button", { name: /^Sweep …/ }).press("Enter");
  await expect(page.getByLabel("Phrase to sweep for")).toBeFocused();
  await page.keyboard.type("lip");
  await page.keyboard.press("Enter");
  await expect(page.getByLabel("Sweep", { exact: true })).toContainText(
    "left before",
  );
  // One key takes all of it back.
  await page.keyboard.press("Escape");
  await page.getByRole("listbox", { name: "Headings of the index" }).focus();
  await page.keyboard.press("Control+z");
  await expect
    .poll(async () =>
      (await indexOf(server, manual)).some((r) => r.text === "lip"),
    )
    .toBe(false);
});

test("headings nearly alike become one by a key, and two again", async ({
  page,
  server,
}) => {
  const manual = await server.demo();
  await openIndex(page, server, manual);
  await toHeading(page, "Tail chain");
  await page.keyboard.press("ArrowDown");
  await expect(page.getByLabel("Locators", { exact: true })).toContainText(
    "If they are one subject",
  );
  const alike = async () =>
    (await indexOf(server, manual)).filter(
      (r) => r.text.toLowerCase() === "tail chain",
    ).length;
  expect(await alike()).toBe(2);
  await page.keyboard.press("m");
  await expect.poll(alike).toBe(1);
  await expect(page.locator(".settled .loose")).toHaveText("2 loose ends");
  await page.keyboard.press("Control+z");
  await expect.poll(alike).toBe(2);
});

test("a heading is renamed over the whole manual, shown before it is done, and its locators say why", async ({
  page,
  server,
}) => {
  const manual = await server.demo();
  await openIndex(page, server, manual);
  await toHeading(page, "thimbles");
  await page.keyboard.press("r");
  const panel = page.getByRole("dialog");
  await page.keyboard.type("eyes of the cable › thimbles in");
  await expect(panel.locator(".foreseen")).toContainText("thimbles in");
  await page.keyboard.press("Enter");
  await expect(page.getByLabel("Locators", { exact: true })).toContainText(
    "eyes of the cable › thimbles in",
  );
  // Why the page is named: the words that stand there.
  await page.keyboard.press("Enter");
  const why = page.getByRole("listbox", { name: /^Locators of/ });
  await expect(why).toBeFocused();
  await expect(why).toContainText("the turnbuckle and the");
  await page.keyboard.press("Enter");
  await expect(
    page.getByRole("textbox", { name: "Text of Landings" }),
  ).toContainText("Between block and cable");
});

test("two ways to set the index stand side by side", async ({
  page,
  server,
}) => {
  const manual = await server.demo();
  await openIndex(page, server, manual);
  await page.getByRole("button", { name: "How it is set" }).click();
  await page.getByRole("button", { name: /in sight, to compare/ }).click();
  const was = page.getByRole("region", { name: "The index as it was" });
  const now = page.getByRole("region", { name: "The index as printed" });
  const before = await was.locator("svg").first().innerHTML();
  await page.getByLabel("Columns").fill("3");
  await page.getByLabel("Columns").press("Tab");
  await expect(now.locator("svg").first()).not.toHaveText(
    (await was.locator("svg").first().textContent())!,
  );
  expect(await was.locator("svg").first().innerHTML()).toBe(before);
  await expect(now).toContainText(/As it is now: \d+ pages/);
  await page.keyboard.press("Escape");
  await page.getByRole("button", { name: "Stop comparing" }).click();
  await expect(was).toHaveCount(0);
  await expect(page.getByRole("region", { name: "Locators" })).toBeVisible();
});

test("references that a division taken out left without a target are pointed elsewhere by key", async ({
  page,
  server,
}) => {
  const manual = await server.demo();
  const looseOf = async () =>
    (
      await server.get<{ references: { state: string }[] }>(
        `/manuals/${manual}/references`,
      )
    ).references.filter((r) => r.state !== "sound").length;
  await openAt(page, server, manual, "Winch and brake");
  await page.getByRole("button", { name: "Take this one out" }).focus();
  await page.keyboard.press("Enter");
  await expect.poll(looseOf).toBeGreaterThanOrEqual(5);
  const loose = await looseOf();
  await openView(page, server, manual, "references");
  const list = page.getByRole("listbox", { name: "References" });
  await expect(list.getByRole("option").first()).toBeVisible();
  await page.getByRole("checkbox", { name: /loose/ }).focus();
  await page.keyboard.press("Space");
  await expect(list.getByRole("option")).toHaveCount(loose);
  await list.focus();
  // The likeliest of those that are proposed, one by one.
  await expect(page.locator(".nearest")).toContainText("printed");
  await page.keyboard.press("1");
  await expect.poll(looseOf).toBeLessThan(loose);
  // All that are left, at one place that is searched for.
  await expect(list.getByRole("option")).not.toHaveCount(loose);
  await list.focus();
  await page.keyboard.press("a");
  await page.keyboard.press("p");
  await expect(page.getByRole("dialog")).toBeVisible();
  await page.keyboard.type("Winter lay");
  await expect(
    page.getByRole("dialog").getByRole("option").first(),
  ).toContainText("Winter lay-up");
  await page.keyboard.press("Enter");
  await expect.poll(looseOf).toBe(0);
  await expect(list).toContainText("No reference fits");
  // Each of the two acts is taken back by one key.
  await list.focus();
  await page.keyboard.press("Control+z");
  await expect.poll(looseOf).toBeGreaterThanOrEqual(4);
});

test("a second, brief contents list and a chapter's own are built, and stand on pages", async ({
  page,
  server,
}) => {
  const manual = await server.demo();
  await openView(page, server, manual, "contents");
  await expect(page.getByLabel("Level 1", { exact: true })).toBeVisible();
  await typeInto(
    page,
    page.getByRole("button", { name: "New list …" }),
    "for the deckhand",
  );
  await page.keyboard.press("Enter");
  await expect(
    page.getByRole("heading", { name: "for the deckhand" }),
  ).toBeVisible();
  // Only the chapters, without folios and leaders between.
  const level = (n: number) => page.getByLabel(`Level ${n}`, { exact: true });
  for (let levels = 4; levels > 2; levels--) {
    await level(levels).getByRole("button", { name: "Take out" }).focus();
    await page.keyboard.press("Enter");
    await expect(level(levels)).toHaveCount(0);
  }
  await level(2).getByRole("button", { name: "Leader of level 2" }).focus();
  await page.keyboard.press("Delete");
  await expect(
    level(2).getByRole("button", { name: "Leader of level 2" }),
  ).toHaveCount(0);
  await page
    .getByRole("button", { name: "Put it on pages of its own" })
    .focus();
  await page.keyboard.press("Enter");
  await expect
    .poll(async () =>
      (await proofOf(server, manual)).divisions.some(
        (d) => d.title === "for the deckhand",
      ),
    )
    .toBe(true);
  const printed = () => textOfTitle(server, manual, "for the deckhand");
  expect(await printed()).toContain("Emergencies");
  expect(await printed()).not.toContain("A person overboard");
  // And each chapter opens with what it has.
  const before = await textOfTitle(server, manual, "Emergencies");
  await page
    .getByRole("checkbox", {
      name: "every chapter opens with its own contents",
    })
    .focus();
  await page.keyboard.press("Space");
  await expect
    .poll(async () => {
      const text = await textOfTitle(server, manual, "Emergencies");
      return text.split("Telling it afterwards").length;
    })
    .toBe(before.split("Telling it afterwards").length + 1);
  await page.keyboard.press("Control+z");
});

/** The words of the pages of one division, by its title. */
async function textOfTitle(
  server: KivrenServer,
  manual: string,
  title: string,
): Promise<string> {
  const proof = await proofOf(server, manual);
  const division = proof.divisions.find((d) => d.title === title)!;
  const pages = proof.runs.flatMap((r) => r.inserted);
  const keys = pages
    .slice(division.firstSheet, division.firstSheet + division.pages)
    .map((p) => p.key);
  return (
    await Promise.all(keys.map((key) => pageText(server, manual, key)))
  ).join(" ");
}

test("selected words are in the index by two keys, and a mark outlives the words it stood in", async ({
  page,
  server,
}) => {
  const manual = await server.demo();
  await openAt(page, server, manual, "Hull");
  const text = page.locator(".manuscript");
  await text.getByText("Scrape to bright metal").click();
  await page.keyboard.press("Home");
  await page.keyboard.press("Control+Shift+ArrowRight");
  await page.keyboard.press("Control+;");
  await page.keyboard.press("i");
  await expect(page.locator(".notice")).toContainText("In the index: Scrape");
  await settled(page);
  expect((await indexOf(server, manual)).map((r) => r.text)).toContain(
    "Scrape",
  );
  // The words go, the mark stays by choice.
  await text.getByText("to bright metal").click();
  await page.keyboard.press("Home");
  await page.keyboard.press("Shift+End");
  await page.keyboard.press("Backspace");
  await expect(page.locator(".notice")).toContainText(
    "With these words went the index entry “Scrape”",
  );
  await page.keyboard.type("Down to bright metal.");
  await page.keyboard.press("Control+;");
  await page.keyboard.press("k");
  await settled(page);
  expect((await indexOf(server, manual)).map((r) => r.text)).toContain(
    "Scrape",
  );
});

test("a contents list stands anywhere in the text, and lists are divisions like any other", async ({
  page,
  server,
}) => {
  const manual = await server.demo();
  await openAt(page, server, manual, "Emergencies");
  await page.locator(".manuscript").getByText("Four sentences hold").click();
  await page.keyboard.press("End");
  await page.keyboard.press("Control+;");
  await page.keyboard.press("c");
  const lists = page.getByRole("dialog");
  await expect(lists.getByText("Contents of a chapter")).toBeVisible();
  await page.keyboard.type("of a chapter");
  await page.keyboard.press("Enter");
  await settled(page);
  await expect
    .poll(
      async () =>
        (await textOfTitle(server, manual, "Emergencies")).split(
          "Telling it afterwards",
        ).length,
    )
    .toBeGreaterThan(2);
  // A list of examples, which the look does not have, from the fore-edge.
  await typeInto(
    page,
    page.getByRole("button", { name: "Add a division…" }),
    "list of examples",
  );
  await page.keyboard.press("Enter");
  await expect
    .poll(async () =>
      (await proofOf(server, manual)).divisions.some(
        (d) => d.title === "Examples",
      ),
    )
    .toBe(true);
  await expect
    .poll(() => textOfTitle(server, manual, "Examples"))
    .toContain("The pull at high water");
});

test("loose ends are walked, mended and put aside by key", async ({
  page,
  server,
}) => {
  const manual = await server.demo();
  await openView(page, server, manual, "plan");
  await page.locator(".settled .loose").focus();
  await page.keyboard.press("Enter");
  const ends = page.getByRole("listbox", { name: "What would print wrong" });
  await expect(ends.getByRole("option")).toHaveCount(3);
  await ends.focus();
  // Gravest first: the see that leads nowhere.
  await expect(ends.getByRole("option").first()).toContainText("tow line");
  await page.keyboard.press("ArrowDown");
  await page.keyboard.press("ArrowDown");
  await page.keyboard.press("a");
  await expect(page.locator("input:focus, textarea:focus")).toHaveCount(1);
  await page.keyboard.type("Sailors know it");
  await page.keyboard.press("Enter");
  await expect(ends.getByRole("option")).toHaveCount(2);
  await expect(page.locator(".settled .loose")).toHaveText("2 loose ends");
  // The headings nearly alike become one where they are told of.
  await ends.focus();
  await page.keyboard.press("End");
  await expect(ends.locator(".row.at")).toContainText("Tail chain");
  await page.keyboard.press("m");
  await expect(ends.getByRole("option")).toHaveCount(1);
});

test("every new view is whole at 1024 pixels, and its list is reached by Tab", async ({
  page,
  server,
}) => {
  const manual = await server.demo();
  await page.setViewportSize({ width: 1024, height: 700 });
  for (const [view, list] of [
    ["references", "References"],
    ["index", "Headings of the index"],
  ] as const) {
    await openView(page, server, manual, view);
    const box = page.getByRole("listbox", { name: list });
    await expect(box.getByRole("option").first()).toBeVisible();
    expect(
      await page.evaluate(
        () =>
          document.documentElement.scrollWidth <=
          document.documentElement.clientWidth,
      ),
    ).toBe(true);
    for (let tabs = 0; tabs < 40; tabs++) {
      await page.keyboard.press("Tab");
      if (await box.evaluate((el) => el === document.activeElement)) break;
    }
    await expect(box).toBeFocused();
  }
});
