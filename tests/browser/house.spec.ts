// What holds in every view: notices stay with their manual, titles stand whole, marks are of the caret's place.
import { openAt, settled } from "./desk";
import { expect, test } from "./server";

test("a notice stays with its manual and does not follow into another", async ({
  page,
  server,
}) => {
  const { id } = await server.post<{ id: string }>("/manuals/sample", {});
  const other = await server.post<{ id: string }>("/manuals", {
    title: "Another",
  });
  await openAt(page, server, id, "Winch and brake");
  await settled(page);
  await page.locator(".manuscript").focus();
  await page.keyboard.press("F6");
  const notice = page.getByText("Everything stays as it is typed");
  await expect(notice).toBeVisible();
  await openAt(page, server, other.id, "First chapter");
  await expect(notice).toHaveCount(0);
});

test("a long title stands whole, and the fore-edge marks the head that the caret is under", async ({
  page,
  server,
}) => {
  const { id } = await server.post<{ id: string }>("/manuals/sample", {});
  await openAt(page, server, id, "Winch and brake");
  await settled(page);
  const fore = page.locator(".fore");
  await page.locator(".manuscript h2", { hasText: "Brake band" }).click();
  await expect(fore.locator("[aria-current]").last()).toContainText(
    "9.3 Brake band",
  );
  await page.locator(".manuscript > p").first().click();
  await expect(fore.locator("[aria-current]").last()).not.toContainText(
    "Brake band",
  );
  const title = page.getByLabel("Title of the division");
  await title.fill(
    "Winch and brake, with all that a deckhand and a fitter have to know of them before the first crossing of a season and after the last",
  );
  const cut = await title.evaluate(
    (t) => t.scrollHeight - t.clientHeight > 2 || t.scrollWidth > t.clientWidth,
  );
  expect(cut).toBe(false);
});

test("a spine keeps its cloth wherever it stands, and the shelf shows where one comes from", async ({
  page,
  server,
}) => {
  const { id } = await server.post<{ id: string }>("/manuals", {
    title: "Aaa first of all",
  });
  await server.post("/manuals", { title: "Bbb second" });
  await page.goto(`${server.url}/#/`);
  const cloth = () =>
    page
      .locator(`#spine-${id} .spine`)
      .evaluate((s) => getComputedStyle(s).backgroundColor);
  await expect(page.locator(`#spine-${id}`)).toBeVisible();
  const before = await cloth();
  await page.getByRole("button", { name: "title", exact: true }).click();
  expect(await cloth()).toBe(before);
  await page.getByRole("button", { name: "last worked on" }).click();
  expect(await cloth()).toBe(before);
  await openAt(page, server, id, "First chapter");
  await page.getByRole("button", { name: "Aaa first of all" }).click();
  await expect(page.locator(`#spine-${id}`)).toHaveAttribute(
    "aria-selected",
    "true",
  );
});

test("a narrow window shows one part of the screen at a time", async ({
  page,
  server,
}) => {
  const { id } = await server.post<{ id: string }>("/manuals", {
    title: "Narrow",
  });
  await openAt(page, server, id, "First chapter");
  await page.setViewportSize({ width: 640, height: 400 });
  const parts = {
    Divisions: page.locator("main > .fore"),
    Text: page.locator("main > .scroll"),
    Page: page.locator("main > .proof"),
  };
  for (const [name, shown] of Object.entries(parts)) {
    await page
      .getByRole("group", { name: "Part of the screen" })
      .getByRole("button", { name })
      .click();
    for (const part of Object.values(parts))
      await expect(part).toBeVisible({ visible: part === shown });
  }
});
