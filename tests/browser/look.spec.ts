// The look of a manual: put on, compared, taken off, given to a file and taken from one.
import { readFileSync } from "node:fs";
import { openAt, proofOf } from "./desk";
import { expect, test, type KivrenServer } from "./server";
import type { Page } from "@playwright/test";

async function openLook(page: Page, server: KivrenServer, manual: string) {
  await page.goto(`${server.url}/#/${manual}/look`);
  await expect(page.locator(".spread .page svg").first()).toBeVisible();
}

const pageCount = async (server: KivrenServer, manual: string) =>
  (await proofOf(server, manual)).pageCount;

test("another look is put on by keyboard, compared, and taken off again", async ({
  page,
  server,
}) => {
  const manual = await server.demo();
  const before = await pageCount(server, manual);
  await openLook(page, server, manual);
  const looks = page.getByRole("toolbar", { name: "Looks to put on" });
  await looks.getByRole("button", { name: /Workshop, A5/ }).focus();
  await page.keyboard.press("ArrowDown");
  await page.keyboard.press("ArrowDown");
  await page.keyboard.press("Enter");
  const compared = page.locator("[data-compared]");
  await expect(compared).toContainText(`Workshop, A5: ${before} pages`);
  await expect.poll(() => pageCount(server, manual)).not.toBe(before);
  const now = await pageCount(server, manual);
  await expect(compared).toContainText(`Pocket: ${now} pages`);
  await expect(looks.getByRole("button", { name: /Pocket/ })).toHaveAttribute(
    "aria-current",
    "true",
  );
  // The spread is of the new look: 105 by 148 millimetres.
  await expect(page.locator(".spread svg").first()).toHaveAttribute(
    "viewBox",
    /^0 0 297\.6/,
  );
  await page.keyboard.press("Control+z");
  await expect.poll(() => pageCount(server, manual)).toBe(before);
  await page.keyboard.press("Control+y");
  await expect.poll(() => pageCount(server, manual)).toBe(now);
  await page.getByRole("button", { name: "Back to Workshop, A5" }).click();
  await expect.poll(() => pageCount(server, manual)).toBe(before);
  // Write shows the same pages.
  await openAt(page, server, manual, "Before the first crossing");
});

test("a look is given to a file, refused with each fault, and put on when it is mended", async ({
  page,
  server,
}) => {
  const manual = await server.demo();
  await openLook(page, server, manual);
  const [given] = await Promise.all([
    page.waitForEvent("download"),
    page.getByRole("link", { name: "Give to a file" }).click(),
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
      .replace('"name": "Workshop, A5"', '"name": "Ours"')
      .replace('"levelFacing": true', '"levelFacing": "yes"'),
  );
  const faults = page.getByRole("alert").filter({ hasText: "not worn" });
  await expect(faults).toContainText(
    "broken.kivrenlook is not worn: 2 faults.",
  );
  await expect(faults).toContainText("master.width");
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
  await expect.poll(() => pageCount(server, manual)).not.toBe(before);
  const worn = page.getByRole("button", { name: /^Ours/ });
  await expect(worn).toContainText("176 × 250 mm · carried by this manual");
  await expect(worn).toHaveAttribute("aria-current", "true");
  // It is there after a restart of the view, and goes along in the package.
  await page.reload();
  await expect(worn).toHaveAttribute("aria-current", "true");
  await expect(page.locator(".spread svg").first()).toHaveAttribute(
    "viewBox",
    /^0 0 498\.8/,
  );
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
  const name = await spread.getAttribute("aria-label");
  await spread.focus();
  await page.keyboard.press("ArrowRight");
  await expect(spread).not.toHaveAttribute("aria-label", name!);
  await page.keyboard.press("ArrowLeft");
  await expect(spread).toHaveAttribute("aria-label", name!);
});
