// A division of hundreds of blocks: only what is in sight is laid out, and nobody who writes in it notices.
import { randomUUID } from "node:crypto";
import type { Page } from "@playwright/test";
import { blocksOf, clickAt, openAt, settled, textOf } from "./desk";
import { expect, type KivrenServer, test } from "./server";

const many = 500;

/** A manual whose first chapter has so many paragraphs, each of which says which it is. */
async function longChapter(server: KivrenServer, page: Page) {
  const { id } = await server.post<{ id: string }>("/manuals", {
    title: "Long",
  });
  const division = await openAt(page, server, id, "First chapter");
  const ids = Array.from({ length: many }, () =>
    randomUUID().replaceAll("-", ""),
  );
  await server.post(`/manuals/${id}/batches`, {
    id: randomUUID(),
    writer: "other",
    label: "Bringing in",
    joined: null,
    divisions: null,
    blocks: ids.map((block, n) => ({
      id: block,
      division: division.id,
      basedOn: 0,
      body: JSON.stringify({
        type: "paragraph",
        attrs: { id: block },
        content: [
          {
            type: "text",
            text: `Paragraph ${n}. ${"The ferry is moored at the landing stage before the crew goes ashore. ".repeat(1 + (n % 4))}`,
          },
        ],
      }),
      after: n === 0 ? "" : ids[n - 1],
      deleted: false,
    })),
  });
  await page.reload();
  await expect(page.locator(".manuscript")).toContainText("Paragraph 0.");
  await settled(page);
  // A page that is opened shows the pages there are; those of the new text come with the next composition. A narrow proof does not show
  // how many they are.
  await expect(
    page.getByRole("toolbar", { name: "Proof" }).getByText(/^of [4-9]\d$/),
  ).toHaveCount(1);
  return { id, division: division.id };
}

/** How many blocks have a box, and whether all of the window shows text. */
const laidOut = (page: Page) =>
  page.evaluate(() => {
    const blocks = [...document.querySelectorAll(".manuscript > *")].filter(
      (b) => b.getClientRects().length > 0,
    );
    const scroller = document
      .querySelector(".manuscript")!
      .closest(".scroll")!
      .getBoundingClientRect();
    let bare = 0;
    for (let y = scroller.top + 60; y < scroller.bottom - 20; y += 40)
      if (
        !document
          .elementsFromPoint(scroller.left + scroller.width / 2, y)
          .some((e) => e.closest(".manuscript > *") || e.closest(".titles"))
      )
        bare++;
    return { blocks: blocks.length, bare };
  });

test("wherever a long division is scrolled to, text stands there and few blocks are laid out", async ({
  page,
  server,
}) => {
  const { id, division } = await longChapter(server, page);
  for (const share of [0.5, 0.15, 0.8, 0.02]) {
    await clickAt(page, share);
    const { blocks, bare } = await laidOut(page);
    expect(blocks).toBeLessThan(many / 2);
    expect(bare).toBeLessThan(4);
  }
  await clickAt(page, 0.6);
  await page.keyboard.press("Home");
  await page.keyboard.type("Typed in the middle. ");
  await settled(page);
  const stored = await blocksOf(server, id, division);
  const at = stored.findIndex((b) =>
    textOf(b).includes("Typed in the middle."),
  );
  expect(at).toBeGreaterThan(many * 0.45);
  expect(at).toBeLessThan(many * 0.75);
  expect(
    stored
      .slice(0, many)
      .map((b) => Number(/Paragraph (\d+)\./.exec(textOf(b))?.[1])),
  ).toEqual(Array.from({ length: many }, (_, n) => n));
});

test("keys reach both ends of a long division, and choose all between them", async ({
  page,
  server,
}) => {
  const { id, division } = await longChapter(server, page);
  await page.locator(".manuscript > p").first().click();
  await page.keyboard.press("Control+End");
  await page.keyboard.type("The very end.");
  await expect(page.getByText("The very end.")).toBeInViewport();
  await page.keyboard.press("Control+Home");
  await page.keyboard.type("The very beginning. ");
  await expect(page.getByText("The very beginning.")).toBeInViewport();
  await settled(page);
  const stored = (await blocksOf(server, id, division)).map(textOf);
  expect(stored[0]).toMatch(/^The very beginning\. Paragraph 0\./);
  expect(stored.at(-1)).toContain("The very end.");

  // By keys that the browser moves itself, block by block over the edge of what was laid out.
  for (let n = 0; n < 160; n++) await page.keyboard.press("ArrowDown");
  await page.keyboard.press("End");
  await page.keyboard.type(" Here.");
  await expect(page.getByText(" Here.")).toBeInViewport();
  await settled(page);
  const here = (await blocksOf(server, id, division)).findIndex((b) =>
    textOf(b).includes(" Here."),
  );
  expect(here).toBeGreaterThan(40);

  // All from the caret to the end is taken out, and comes back by one press.
  await page.keyboard.press("Control+Shift+End");
  await page.keyboard.press("Delete");
  await settled(page);
  expect((await blocksOf(server, id, division)).length).toBe(here + 1);
  await page.keyboard.press("Control+z");
  await settled(page);
  expect((await blocksOf(server, id, division)).length).toBe(stored.length);
});

test("a mouse drags a choice over more than is laid out", async ({
  page,
  server,
}) => {
  const { id, division } = await longChapter(server, page);
  await clickAt(page, 0.1);
  const from = await page.evaluate(() => {
    const { left, top } = document
      .getSelection()!
      .getRangeAt(0)
      .getBoundingClientRect();
    return { x: left, y: top + 8 };
  });
  await page.mouse.move(from.x, from.y);
  await page.mouse.down();
  await page.mouse.move(from.x + 60, from.y, { steps: 3 });
  const scroller = page.locator(".scroll:has(.manuscript)");
  for (let n = 0; n < 12; n++) {
    await page.mouse.wheel(0, 900);
    await scroller.evaluate(
      () =>
        new Promise((done) =>
          requestAnimationFrame(() => requestAnimationFrame(done)),
        ),
    );
  }
  await page.mouse.move(from.x, 400, { steps: 4 });
  await page.mouse.up();
  const [anchor, focus] = await page.evaluate(() => {
    const { anchorNode, focusNode } = document.getSelection()!;
    return [anchorNode, focusNode].map((n) =>
      Number(/Paragraph (\d+)/.exec(n?.textContent ?? "")?.[1]),
    );
  });
  expect(focus! - anchor!).toBeGreaterThan(60);
  await page.keyboard.press("Delete");
  await settled(page);
  const left = (await blocksOf(server, id, division)).length;
  expect(left).toBe(many + 1 - (focus! - anchor!));
  await page.keyboard.press("Control+z");
  await settled(page);
  expect((await blocksOf(server, id, division)).length).toBe(many + 1);
});

test("a page of the proof leads to its place in a long division", async ({
  page,
  server,
}) => {
  await longChapter(server, page);
  await page.locator(".manuscript > p").first().click();
  const pages = page.getByRole("textbox", { name: "Go to folio" });
  await pages.fill("1300");
  await pages.press("Enter");
  await expect(page.getByText("No page has the folio 1300.")).toBeVisible();
  await pages.fill("30");
  await pages.press("Enter");
  await expect(page.locator('.proof .page[data-folio="30"]')).toBeVisible();
  await page.locator(".proof .page svg").first().click({ force: true });
  await expect
    .poll(async () =>
      page.evaluate(() => {
        const at = document.getSelection()!.anchorNode;
        const block = (at instanceof Element ? at : at?.parentElement)?.closest(
          ".manuscript > *",
        );
        return Number(/Paragraph (\d+)/.exec(block?.textContent ?? "")?.[1]);
      }),
    )
    .toBeGreaterThan(100);
  expect((await laidOut(page)).bare).toBeLessThan(4);
});
