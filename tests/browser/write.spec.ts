import { execFileSync } from "node:child_process";
import { mkdtempSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import {
  blocksOf,
  divisionText,
  openAt,
  proofOf,
  settled,
  textOf,
} from "./desk";
import type { Page } from "@playwright/test";
import { expect, test, type KivrenServer } from "./server";

const sentences =
  "The deckhand walks the deck from bow to stern and looks at every plank before anybody comes on board. ";

async function pdf(server: KivrenServer, manual: string): Promise<string> {
  const [output] = await server.post<[{ id: string }]>(
    `/manuals/${manual}/outputs`,
    { kind: "screenPdf" },
  );
  await expect
    .poll(
      async () =>
        (
          await server.get<{ id: string; state: string }[]>(
            `/manuals/${manual}/outputs`,
          )
        ).find((o) => o.id === output.id)!.state,
      { timeout: 30_000 },
    )
    .toBe("Done");
  const file = join(mkdtempSync(join(tmpdir(), "kivren-")), "out.pdf");
  writeFileSync(
    file,
    Buffer.from(
      await (
        await fetch(
          `${server.url}/api/manuals/${manual}/outputs/${output.id}/file`,
        )
      ).arrayBuffer(),
    ),
  );
  return file;
}

test("typing moves a later page, and contents line, cross-reference and index locator follow in proof and PDF", async ({
  page,
  server,
}) => {
  const manual = await server.demo();
  const before = await proofOf(server, manual);
  const folioOf = (p: typeof before, title: string) =>
    p.divisions.flatMap((d) => d.heads).find((h) => h.title === title)!.folio;
  await openAt(page, server, manual, "Before the first crossing");
  await page.locator(".manuscript > p").first().click();
  await page.keyboard.press("Control+Home");
  for (let n = 0; n < 30; n++) await page.keyboard.insertText(sentences);
  await settled(page);
  await expect(page.locator("[data-effect]")).toContainText("moved");

  const after = await proofOf(server, manual);
  const [was, is] = [
    folioOf(before, "Adjusting the band"),
    folioOf(after, "Adjusting the band"),
  ];
  expect(Number(is)).toBeGreaterThan(Number(was));
  expect(await divisionText(server, manual, "Contents")).toMatch(
    new RegExp(`Adjusting the band\\n${is}\\b`),
  );
  const chapter = after.divisions.find(
    (d) => d.title === "Before the first crossing",
  )!;
  expect(await divisionText(server, manual, "Index")).toMatch(
    new RegExp(`adjusting ?, ${is}\\b`),
  );

  const text = execFileSync("pdftotext", [
    "-layout",
    await pdf(server, manual),
    "-",
  ]).toString();
  expect(text).toMatch(new RegExp(`9\\.4\\s+Adjusting the band[ .]+${is}\\n`));
  expect(text.replace(/\s+/g, " ")).toContain(
    `“Adjusting the band” on page ${is}`,
  );
  expect(text).toContain(`adjusting, ${is}`);
  expect(chapter.pages).toBeGreaterThan(
    before.divisions.find((d) => d.title === chapter.title)!.pages,
  );
});

test("a head, a split, a join, undo and redo, by keyboard alone", async ({
  page,
  server,
}) => {
  const made = await server.post<{ id: string }>("/manuals", { title: "Keys" });
  const division = await openAt(page, server, made.id, "First chapter");
  await page.locator(".manuscript").focus();
  await page.keyboard.type("Brake band");
  await page.keyboard.press("Control+.");
  await page.keyboard.press("1");
  await page.keyboard.press("Enter");
  await page.keyboard.type("One sentence. Another sentence.");
  for (let n = 0; n < "Another sentence.".length; n++)
    await page.keyboard.press("ArrowLeft");
  await page.keyboard.press("Enter");
  await settled(page);
  let blocks = await blocksOf(server, made.id, division.id);
  expect(blocks.map((b) => [b.type, textOf(b)])).toEqual([
    ["head", "Brake band"],
    ["paragraph", "One sentence. "],
    ["paragraph", "Another sentence."],
  ]);
  const first = blocks[1]!.attrs.id;
  await page.keyboard.press("Backspace");
  await settled(page);
  blocks = await blocksOf(server, made.id, division.id);
  expect(blocks.map((b) => textOf(b))).toEqual([
    "Brake band",
    "One sentence. Another sentence.",
  ]);
  expect(blocks[1]!.attrs.id).toBe(first);
  await page.keyboard.press("Control+z");
  await settled(page);
  expect((await blocksOf(server, made.id, division.id)).length).toBe(3);
  await page.keyboard.press("Control+y");
  await settled(page);
  expect((await blocksOf(server, made.id, division.id)).length).toBe(2);
  await expect(page.locator(".proof .page svg").first()).toContainText("Brake");
});

test("steps nest with Tab, lift with Shift Tab, and Enter in an empty one leaves", async ({
  page,
  server,
}) => {
  const made = await server.post<{ id: string }>("/manuals", {
    title: "Steps",
  });
  const division = await openAt(page, server, made.id, "First chapter");
  await page.locator(".manuscript").focus();
  await page.keyboard.press("Control+.");
  await page.keyboard.press("s");
  await page.keyboard.type("Moor the ferry.");
  await page.keyboard.press("Enter");
  await page.keyboard.type("Upper line first.");
  await page.keyboard.press("Tab");
  await page.keyboard.press("Enter");
  await page.keyboard.type("Close the padlock.");
  await page.keyboard.press("Shift+Tab");
  await page.keyboard.press("Enter");
  await page.keyboard.press("Enter");
  await page.keyboard.type("Then rest.");
  await settled(page);
  const [steps, rest] = await blocksOf(server, made.id, division.id);
  expect(steps!.type).toBe("steps");
  const items = steps!.content as { content: { type: string }[] }[];
  expect(items.length).toBe(2);
  expect(items[0]!.content[1]!.type).toBe("steps");
  expect([rest!.type, textOf(rest)]).toEqual(["paragraph", "Then rest."]);
});

test("cross-reference, index entry and footnote are put in by chord and print at once", async ({
  page,
  server,
}) => {
  const manual = await server.demo();
  const division = await openAt(
    page,
    server,
    manual,
    "Loading vehicles and livestock",
  );
  await page.locator(".manuscript > p").first().click();
  await page.keyboard.press("End");
  await page.keyboard.type(" Compare ");
  await page.keyboard.press("Control+;");
  await page.keyboard.press("x");
  await page.getByLabel("Point at", { exact: true }).last().fill("Figure 8-1");
  await expect(page.locator("[role=option][aria-selected=true]")).toContainText(
    "Figure 8-1",
  );
  await page.keyboard.press("Enter");
  await page.keyboard.press("Control+;");
  await page.keyboard.press("i");
  await page
    .getByLabel("Index entry", { exact: true })
    .last()
    .fill("zebra crossing › none");
  await page.keyboard.press("Enter");
  await page.keyboard.press("Control+;");
  await page.keyboard.press("n");
  await page.keyboard.type("A note of one line.");
  await settled(page);
  await expect(page.locator(".manuscript .reference").first()).toHaveText(
    "Figure 8-1".replace(" ", "\u00a0"),
  );
  const blocks = await blocksOf(server, manual, division.id);
  expect(JSON.stringify(blocks[0])).toContain("zebra crossing");
  expect(await divisionText(server, manual, "Index")).toContain("zebra");
  await expect(page.locator(".proof .page svg").first()).toContainText(
    "A note of one line.".split(" ").join(""),
  );
});

test("a picture is put into words in a panel under it, and an anchor is named in one", async ({
  page,
  server,
}) => {
  const manual = await server.demo();
  const division = await openAt(page, server, manual, "Winch and brake");
  await page.locator(".manuscript .alternative").first().click();
  await page
    .getByRole("textbox", { name: "What it shows, in words" })
    .fill("The drum from the side.");
  await page.keyboard.press("Enter");
  await page.locator(".manuscript > p").first().click();
  await page.keyboard.press("Control+;");
  await page.keyboard.press("a");
  await page
    .getByRole("textbox", { name: "Name of the anchor" })
    .fill("winch-first");
  await page.keyboard.press("Enter");
  await settled(page);
  const blocks = JSON.stringify(await blocksOf(server, manual, division.id));
  expect(blocks).toContain('"alternative":"The drum from the side."');
  expect(blocks).toContain('"name":"winch-first"');
});

test("deleting the target of a reference shows a loose end at once and prints nothing wrong", async ({
  page,
  server,
}) => {
  const manual = await server.demo();
  await openAt(page, server, manual, "Winch and brake");
  await expect(page.locator(".settled .loose")).toHaveText("3 loose ends");
  await page
    .locator(".manuscript h2", { hasText: "Adjusting the band" })
    .click({ clickCount: 3 });
  await page.keyboard.press("Backspace");
  await page.keyboard.press("Backspace");
  await settled(page);
  await expect(
    page.locator(".manuscript h2", { hasText: "Adjusting the band" }),
  ).toHaveCount(0);
  await expect(page.locator(".settled .loose")).toHaveText(
    /^([4-9]|\d\d) loose/,
  );
  await page.locator(".settled .loose").click();
  await expect(page.locator(".drawer")).toContainText("points at nothing");
  const proof = await proofOf(server, manual);
  expect(proof.looseEnds.some((l) => l.kind === "ReferenceToNothing")).toBe(
    true,
  );
  const printed =
    (await divisionText(server, manual, "Contents")) +
    (await divisionText(server, manual, "Chapter"));
  expect(printed).not.toContain("Adjusting the band");
});

test("the proof follows the caret and says why the page ends; a click in it goes to the words", async ({
  page,
  server,
}) => {
  const manual = await server.demo();
  await openAt(page, server, manual, "Crossing");
  await expect(page.locator(".why")).toContainText("Page");
  const first = await page
    .locator(".proof .page")
    .first()
    .getAttribute("data-folio");
  await page
    .locator(".manuscript h2", { hasText: "If something goes wrong" })
    .click();
  await expect(page.locator(".proof .page").first()).not.toHaveAttribute(
    "data-folio",
    first!,
  );
  await expect(page.locator(".why b")).toContainText("Page");
  await page.locator(".proof .page text[data-block]").first().click();
  await expect(page.locator(".manuscript")).toBeFocused();
});

test("a word is as wide in the proof as in the PDF", async ({
  page,
  server,
}) => {
  const manual = await server.demo();
  const division = await openAt(page, server, manual, "Crossing");
  await expect(page.locator(".proof .page svg")).toContainText("Crossing");
  await page.evaluate(() => document.fonts.ready);
  const proof = await page
    .locator(".proof .page svg")
    .first()
    .evaluate((svg) => {
      const words: { x: number; y: number; width: number; text: string }[] = [];
      for (const span of svg.querySelectorAll("tspan"))
        words.push({
          x: Number(span.getAttribute("x")),
          y: Number(span.parentElement!.getAttribute("y")),
          width: (span as SVGTSpanElement).getComputedTextLength(),
          text: span.textContent!,
        });
      return words;
    });
  const boxes = execFileSync("pdftotext", [
    "-bbox",
    "-f",
    String(division.firstSheet + 1),
    "-l",
    String(division.firstSheet + 1),
    await pdf(server, manual),
    "-",
  ]).toString();
  const printed = [
    ...boxes.matchAll(
      /<word xMin="([\d.]+)" yMin="([\d.]+)" xMax="([\d.]+)" yMax="([\d.]+)">([^<]*)/g,
    ),
  ].map((m) => ({
    x: Number(m[1]),
    width: Number(m[3]) - Number(m[1]),
    text: m[5]!,
  }));
  let compared = 0;
  for (const word of proof.filter((w) => /^[a-z]{4,}$/.test(w.text))) {
    const same = printed.find(
      (p) => p.text === word.text && Math.abs(p.x - word.x) < 0.2,
    );
    if (!same) continue;
    compared++;
    expect(Math.abs(same.width - word.width), word.text).toBeLessThan(0.25);
  }
  expect(compared).toBeGreaterThan(30);
});

test("another division in the address of an open manual is gone to", async ({
  page,
  server,
}) => {
  const manual = await server.demo();
  await openAt(page, server, manual, "Before the first crossing");
  const other = (await proofOf(server, manual)).divisions.find(
    (d) => d.title === "Crossing",
  )!;
  await page.evaluate(
    (hash) => (location.hash = hash),
    `#/${manual}/${other.id}`,
  );
  await expect(
    page.getByRole("textbox", { name: "Text of Crossing" }),
  ).toContainText("One deckhand works the winch");
  await expect(page).toHaveURL(new RegExp(`${other.id}$`));
});

test("text copied with its reference and index entry is pasted whole in another division", async ({
  page,
  server,
}) => {
  const manual = await server.demo();
  await openAt(page, server, manual, "Before the first crossing");
  const paragraph = page.locator(".manuscript > p", {
    hasText: "The ferry is pulled sideways",
  });
  await expect(paragraph).toContainText("The limits in Table 2-1 are chosen");
  await paragraph.click({ clickCount: 3 });
  // The events a browser makes of Ctrl+C and Ctrl+V: a clipboard of its own it has only where somebody looks at it.
  const copied = await page.evaluate(() => {
    const clipboardData = new DataTransfer();
    document.querySelector(".manuscript")!.dispatchEvent(
      new ClipboardEvent("copy", {
        clipboardData,
        bubbles: true,
        cancelable: true,
      }),
    );
    return {
      html: clipboardData.getData("text/html"),
      text: clipboardData.getData("text/plain"),
    };
  });
  expect(copied.text).toMatch(/The limits in Table\s2-1 are chosen/);
  const other = await openAt(page, server, manual, "Crossing");
  await page.locator(".manuscript > p").first().click();
  await page.keyboard.press("End");
  await page.keyboard.press("Enter");
  await page.evaluate(({ html, text }) => {
    const clipboardData = new DataTransfer();
    clipboardData.setData("text/html", html);
    clipboardData.setData("text/plain", text);
    document.querySelector(".manuscript")!.dispatchEvent(
      new ClipboardEvent("paste", {
        clipboardData,
        bubbles: true,
        cancelable: true,
      }),
    );
  }, copied);
  await settled(page);
  await expect(paragraph).toContainText("The limits in Table 2-1 are chosen");
  const stored = JSON.stringify(await blocksOf(server, manual, other.id));
  expect(stored.slice(stored.indexOf("The ferry is pulled sideways"))).toMatch(
    /"crossReference".*"indexEntry".*"footnote"/,
  );
});

test("no panel leaves the window with the caret on its last line", async ({
  page,
  server,
}) => {
  const manual = await server.demo();
  await page.setViewportSize({ width: 1280, height: 720 });
  await openAt(page, server, manual, "Before the first crossing");
  // The paragraph whose first line is the last in the window.
  const low = page.locator(".manuscript > p").nth(6);
  await low.evaluate((p) => {
    const scroll = p.closest(".scroll")!;
    scroll.scrollTop +=
      p.getBoundingClientRect().top -
      scroll.getBoundingClientRect().bottom +
      30;
  });
  await low.click({ position: { x: 120, y: 10 } });
  for (const [keys, name] of [
    [["Control+."], "What this is"],
    [["Control+;"], "Put in"],
    [["Control+;", "x"], "Point at"],
    [["Control+;", "i"], "Index entry"],
    [["Control+;", "v"], "Variable"],
    [["Control+;", "a"], "Name of the anchor"],
  ] as const) {
    for (const key of keys) await page.keyboard.press(key);
    const panel = page.getByRole("dialog", { name });
    await expect(panel).toBeVisible();
    await expect
      .poll(async () => {
        const box = (await panel.boundingBox())!;
        return (
          box.x >= 0 &&
          box.y >= 0 &&
          box.x + box.width <= 1280 &&
          box.y + box.height <= 720
        );
      }, `${name} inside the window`)
      .toBe(true);
    await page.keyboard.press("Escape");
    await expect(panel).toBeHidden();
  }
});

test("a table is written by keys: size, cells, a row more, a merged head, and text behind it; a screen reader finds a table", async ({
  page,
  server,
}) => {
  const made = await server.post<{ id: string }>("/manuals", {
    title: "Tables",
  });
  const division = await openAt(page, server, made.id, "First chapter");
  await page.locator(".manuscript").focus();
  await page.keyboard.press("Control+;");
  await page.keyboard.press("t");
  await page.getByRole("textbox", { name: "Columns × rows" }).fill("2 × 2");
  await page.keyboard.press("Enter");
  for (const words of ["Line", "Load", "Fore", "4 kN", "Aft"]) {
    await page.keyboard.type(words);
    await page.keyboard.press("Tab");
  }
  await page.keyboard.type("6 kN");
  await page.keyboard.press("Control+.");
  await page.keyboard.press("C");
  await page.keyboard.type("n");
  // Down from the last row there is nothing yet: typing goes on there all the same.
  await page.keyboard.press("ArrowDown");
  await page.keyboard.type("Behind it.");
  await settled(page);
  const blocks = await blocksOf(server, made.id, division.id);
  expect(blocks.map((b) => b.type)).toEqual(["table", "paragraph"]);
  expect(textOf(blocks[1])).toBe("Behind it.");
  const [, ...rows] = blocks[0]!.content!;
  expect(rows.map((r) => r.content!.map((c) => textOf(c)))).toEqual([
    ["Line", "", "Load"],
    ["Fore", "", "4 kN"],
    ["Aft", "n", "6 kN"],
  ]);
  expect(blocks[0]!.attrs.columns).toHaveLength(3);
  await expect(page.getByRole("table")).toBeVisible();
  await expect(page.getByRole("columnheader")).toHaveCount(3);
  await expect(page.locator(".proof svg").first()).toContainText("6kN");
  // The header's cells, chosen by keys, become one.
  await page.getByRole("columnheader").first().click();
  await page.keyboard.press("Shift+ArrowRight");
  for (let i = 0; i < 6; i++) await page.keyboard.press("Shift+ArrowRight");
  await page.keyboard.press("Control+.");
  await page.keyboard.press("m");
  await settled(page);
  await expect(page.getByRole("columnheader").first()).toHaveAttribute(
    "colspan",
    /[23]/,
  );
});

test("a listing is typed into its lines, a warning inside a step, and clicking below the last block goes on there", async ({
  page,
  server,
}) => {
  const made = await server.post<{ id: string }>("/manuals", {
    title: "Blocks",
  });
  const division = await openAt(page, server, made.id, "First chapter");
  await page.locator(".manuscript").focus();
  await page.keyboard.press("Control+.");
  await page.keyboard.press("s");
  await page.keyboard.type("Set the brake.");
  await page.keyboard.press("Control+.");
  await page.keyboard.press("w");
  await page.keyboard.type("It is hot.");
  await page.keyboard.press("Control+;");
  await page.keyboard.press("l");
  await page.keyboard.type("brake on");
  await page.keyboard.press("Enter");
  await page.keyboard.type("brake off");
  const box = (await page.locator(".manuscript").boundingBox())!;
  await page.mouse.click(box.x + box.width / 2, box.y + box.height + 60);
  await page.keyboard.type("On it goes.");
  await settled(page);
  const blocks = await blocksOf(server, made.id, division.id);
  expect(blocks.map((b) => b.type)).toEqual(["steps", "paragraph"]);
  const step = blocks[0]!.content![0]!;
  expect(step.content!.map((b) => b.type)).toEqual(["paragraph", "admonition"]);
  const warning = step.content![1]!;
  expect(warning.content!.map((b) => b.type)).toEqual(["paragraph", "listing"]);
  expect(textOf(warning.content![1]!.content![1])).toBe("brake on\nbrake off");
  expect(textOf(blocks[1])).toBe("On it goes.");
});

test("a footnote is typed where it stands, in a bubble; opened again, changed and taken back; an empty one is a loose end", async ({
  page,
  server,
}) => {
  const made = await server.post<{ id: string }>("/manuals", {
    title: "Notes",
  });
  const division = await openAt(page, server, made.id, "First chapter");
  await page.locator(".manuscript").focus();
  await page.keyboard.type("Set the brake");
  await page.keyboard.press("Control+;");
  await page.keyboard.press("n");
  const bubble = page.getByRole("dialog", { name: "Footnote" });
  await expect(bubble).toBeVisible();
  await settled(page);
  await expect(page.locator(".loose").first()).toContainText("2 loose ends");
  await page.keyboard.type("By hand");
  await page.keyboard.press("Enter");
  await expect(bubble).toBeHidden();
  await page.keyboard.type(" and wait.");
  await settled(page);
  const text = async () =>
    textOf((await blocksOf(server, made.id, division.id))[0]);
  expect(await text()).toBe("Set the brakeBy hand and wait.");
  // The index of a new manual has no entries yet: that one stays.
  await expect(page.locator(".loose").first()).toContainText("1 loose end");
  await expect(page.locator(".proof svg").first()).toContainText("Byhand");
  // The caret goes through it as through a letter; Enter opens it.
  for (let i = 0; i < 11; i++) await page.keyboard.press("ArrowLeft");
  await page.keyboard.press("Enter");
  await page.keyboard.type(" only");
  await settled(page);
  expect(await text()).toBe("Set the brakeBy hand only and wait.");
  await page.keyboard.press("Control+z");
  await expect(bubble).not.toContainText("only");
  await page.keyboard.press("Escape");
  await settled(page);
  expect(await text()).toBe("Set the brakeBy hand and wait.");
  await page.locator(".manuscript .footnote").click();
  await expect(bubble).toBeVisible();
});

test("a reference is found by its title, chosen, followed and back, pointed elsewhere, and typing does not take its place", async ({
  page,
  server,
}) => {
  const manual = await server.demo();
  const division = await openAt(page, server, manual, "Crossing");
  await page
    .locator(".manuscript > p")
    .first()
    .click({ position: { x: 90, y: 10 } });
  await page.keyboard.press("Home");
  await page.keyboard.press("Control+;");
  await page.keyboard.press("x");
  const panel = page.getByRole("dialog", { name: "Point at" });
  // The section of that name comes before every paragraph that begins so.
  await panel
    .getByRole("textbox", { name: "Point at" })
    .fill("Limits of wind and water");
  const first = panel.getByRole("option").first();
  await expect(first).toContainText("2.2");
  await page.keyboard.press("Enter");
  await settled(page);
  const reference = page
    .locator(".manuscript > p")
    .first()
    .locator(".reference");
  await expect(reference).not.toHaveText("…");
  const before = await reference.textContent();
  // Chosen by the caret, typed at: the letters stand behind it.
  await page.keyboard.press("ArrowLeft");
  const bar = page.getByRole("dialog", { name: "Cross-reference" });
  await expect(bar).toBeVisible();
  await page.keyboard.type(" says");
  await settled(page);
  expect(textOf((await blocksOf(server, manual, division.id))[0])).toMatch(
    /^ says/,
  );
  await expect(reference).toHaveText(before!);
  // Followed, and back.
  await reference.click();
  await page.keyboard.press("Enter");
  await expect(page.getByLabel("Title of the division")).toHaveValue(
    "Before the first crossing",
  );
  await page.keyboard.press("Alt+ArrowLeft");
  await expect(page.getByLabel("Title of the division")).toHaveValue(
    "Crossing",
  );
  // Pointed elsewhere, in the form it had.
  await reference.click();
  await page.keyboard.press("Control+.");
  await expect(panel.getByRole("option").first()).toContainText("2.2");
  await panel.getByRole("textbox", { name: "Point at" }).fill("Making ready");
  await expect(panel.getByRole("option").first()).toContainText("2.3");
  await page.keyboard.press("Enter");
  await settled(page);
  await expect(reference).not.toHaveText(before!);
  const stored = JSON.stringify(await blocksOf(server, manual, division.id));
  expect(stored.match(/"form":"/g)!.length).toBeGreaterThan(0);
  // Taken out where it stands.
  await reference.click();
  await bar.getByRole("button", { name: "Take out" }).click();
  await expect(reference).toHaveCount(0);
});

test("an index entry is changed where it stands", async ({ page, server }) => {
  const made = await server.post<{ id: string }>("/manuals", {
    title: "Entries",
  });
  const division = await openAt(page, server, made.id, "First chapter");
  await page.locator(".manuscript").focus();
  await page.keyboard.type("The brake");
  await page.keyboard.press("Control+;");
  await page.keyboard.press("i");
  await page.getByRole("textbox", { name: "Index entry" }).fill("brake");
  await page.keyboard.press("Enter");
  await settled(page);
  await page.locator(".manuscript .entry").click();
  await expect(page.getByRole("dialog", { name: "Index entry" })).toContainText(
    "brake",
  );
  await page.keyboard.press("Enter");
  const words = page.getByRole("textbox", { name: "Index entry" });
  await expect(words).toHaveValue("brake");
  await words.fill("winch › brake");
  await page.getByRole("textbox", { name: "See also" }).fill("band");
  await page.getByRole("button", { name: "Keep" }).click();
  await settled(page);
  const entry = (
    await blocksOf(server, made.id, division.id)
  )[0]!.content!.find((c) => c.type === "indexEntry")!;
  expect(entry.attrs).toMatchObject({
    headings: ["winch", "brake"],
    seeAlso: "band",
  });
});

/** A picture file of one colour, drawn by the browser. */
const drawn = async (page: Page, colour: string) =>
  Buffer.from(
    await page.evaluate(async (fill) => {
      const canvas = new OffscreenCanvas(40, 20);
      const context = canvas.getContext("2d")!;
      context.fillStyle = fill;
      context.fillRect(0, 0, 40, 20);
      const blob = await canvas.convertToBlob();
      return [...new Uint8Array(await blob.arrayBuffer())];
    }, colour),
  );

test("a figure comes from a file and by paste, is chosen by a click, set, given another picture, and taken out", async ({
  page,
  server,
}) => {
  const made = await server.post<{ id: string }>("/manuals", {
    title: "Figures",
  });
  const division = await openAt(page, server, made.id, "First chapter");
  const stored = async () => blocksOf(server, made.id, division.id);
  await page.locator(".manuscript").focus();
  await page.keyboard.type("The drum.");
  await page.keyboard.press("Control+;");
  const choosing = page.waitForEvent("filechooser");
  await page.getByRole("dialog", { name: "Put in" }).waitFor();
  await page.keyboard.press("f");
  await (
    await choosing
  ).setFiles({
    name: "drum.png",
    mimeType: "image/png",
    buffer: await drawn(page, "teal"),
  });
  await expect(page.locator(".manuscript figure")).toHaveCount(1);
  // The caret is in its caption.
  await page.keyboard.type("Seen from aft");
  await settled(page);
  expect(textOf((await stored())[1])).toBe("Seen from aft");
  await expect(page.locator(".loose").first()).toContainText("2 loose ends");
  await page.locator(".manuscript figure img").click();
  await page.keyboard.press("Enter");
  await page
    .getByRole("textbox", { name: "What it shows, in words" })
    .fill("A teal field.");
  await page.getByRole("spinbutton").fill("50");
  await page
    .getByRole("combobox", { name: "Where it stands" })
    .selectOption("Top of a page");
  await page.getByRole("button", { name: "Keep" }).click();
  await settled(page);
  expect((await stored())[1]!.attrs).toMatchObject({
    asset: "drum.png",
    alternative: "A teal field.",
    width: 50,
    placement: "top",
  });
  const id = (await stored())[1]!.attrs.id;
  // Another picture of the same name: the figure stays the figure.
  await page.locator(".manuscript figure img").click();
  await page.keyboard.press("Enter");
  const again = page.waitForEvent("filechooser");
  await page.getByRole("button", { name: "Another picture…" }).click();
  await (
    await again
  ).setFiles({
    name: "drum.png",
    mimeType: "image/png",
    buffer: await drawn(page, "maroon"),
  });
  await expect
    .poll(async () => (await stored())[1]!.attrs.asset)
    .toMatch(/^drum-[0-9a-f]{8}\.png$/);
  expect((await stored())[1]!.attrs.id).toBe(id);
  // A pasted picture is another figure; no picture is told as such.
  const paste = (bytes: number[], type: string) =>
    page.locator(".manuscript").evaluate(
      (text, [data, kind]) => {
        const clipboard = new DataTransfer();
        clipboard.items.add(
          new File([new Uint8Array(data)], "pasted.png", { type: kind }),
        );
        text.dispatchEvent(
          new ClipboardEvent("paste", {
            clipboardData: clipboard,
            bubbles: true,
            cancelable: true,
          }),
        );
      },
      [bytes, type] as const,
    );
  await paste([...(await drawn(page, "navy"))], "image/png");
  await expect(page.locator(".manuscript figure")).toHaveCount(2);
  await paste([1, 2, 3], "image/png");
  await expect(page.getByText("“pasted.png” is no picture")).toBeVisible();
  // Chosen by a click, it is what Delete takes out.
  await page.locator(".manuscript figure img").first().click();
  await page.keyboard.press("Delete");
  await settled(page);
  expect((await stored()).map((b) => b.type)).toEqual(["paragraph", "figure"]);
});
