import { blocksOf, divisionText, openAt, settled, textOf } from "./desk";
import { expect, test } from "./server";

test("a paragraph that was written over is brought back, then the whole division, and both are taken back", async ({
  page,
  server,
}) => {
  const made = await server.post<{ id: string }>("/manuals", {
    title: "History",
  });
  const division = await openAt(page, server, made.id, "First chapter");
  const texts = async () =>
    (await blocksOf(server, made.id, division.id)).map(textOf);
  await page.locator(".manuscript").focus();
  await page.keyboard.type("Grease the sheaves each month.");
  await settled(page);
  const [first] = await blocksOf(server, made.id, division.id);
  // Another writer writes over it, and adds a paragraph.
  const { blocks } = await server.get<{
    blocks: { id: string; version: number }[];
  }>(`/manuals/${made.id}/divisions/${division.id}`);
  const body = (id: string, text: string) =>
    JSON.stringify({
      type: "paragraph",
      attrs: { id },
      content: [{ type: "text", text }],
    });
  await server.post(`/manuals/${made.id}/batches`, {
    id: crypto.randomUUID(),
    writer: "another",
    label: "Replacing",
    joined: null,
    blocks: [
      {
        id: blocks[0]!.id,
        division: division.id,
        basedOn: blocks[0]!.version,
        body: body(blocks[0]!.id, "Oil the sheaves each week."),
        after: null,
        deleted: false,
      },
      {
        id: "p2",
        division: division.id,
        basedOn: 0,
        body: body("p2", "And the pawl."),
        after: blocks[0]!.id,
        deleted: false,
      },
    ],
  });
  await expect(page.locator(".manuscript")).toContainText("Oil the sheaves");
  await page.locator(".manuscript p").first().click();
  await page.keyboard.press("F7");
  const drawer = page.getByRole("region", { name: "History" });
  await drawer.getByRole("button", { name: "This block" }).click();
  const entries = drawer.locator("li");
  await expect(entries.first()).toContainText("another writer");
  await expect(entries.first().locator("del").first()).toContainText("Grease");
  await expect(entries.first().locator("ins").first()).toContainText("Oil");
  await entries
    .first()
    .getByRole("button", { name: "Block as before" })
    .click();
  await expect(page.locator(".manuscript")).toContainText(
    "Grease the sheaves each month.",
  );
  expect(await texts()).toEqual([
    "Grease the sheaves each month.",
    "And the pawl.",
  ]);
  expect(textOf(first)).toBe("Grease the sheaves each month.");
  await drawer.getByRole("button", { name: "This division" }).click();
  await entries
    .filter({ hasText: "Replacing" })
    .getByRole("button", { name: "Division as before" })
    .click();
  await expect.poll(texts).toEqual(["Grease the sheaves each month."]);
  await page.keyboard.press("Escape");
  await expect(page.locator(".manuscript")).toBeFocused();
  await page.keyboard.press("Control+z");
  await expect
    .poll(texts)
    .toEqual(["Grease the sheaves each month.", "And the pawl."]);
});

test("an act is taken back while the text is being read again", async ({
  page,
  server,
}) => {
  const made = await server.post<{ id: string }>("/manuals", {
    title: "Read again",
  });
  const division = await openAt(page, server, made.id, "First chapter");
  const texts = async () =>
    (await blocksOf(server, made.id, division.id)).map(textOf);
  await page.locator(".manuscript").focus();
  await page.keyboard.type("Grease the sheaves.");
  await settled(page);
  await page.reload();
  await expect(page.locator(".manuscript")).toContainText("Grease");
  await page.locator(".manuscript").focus();
  let hold = false;
  let release = () => {};
  const held = new Promise<void>((then) => (release = then));
  await page.route(`**/manuals/${made.id}/divisions/**`, async (route) => {
    if (hold) await held;
    await route.continue();
  });
  hold = true;
  await page.keyboard.press("Control+z");
  await expect.poll(texts).not.toEqual(["Grease the sheaves."]);
  await expect(page.locator(".manuscript")).toBeHidden();
  await page.keyboard.press("Control+y");
  await expect.poll(texts).toEqual(["Grease the sheaves."]);
  release();
  await expect(page.locator(".manuscript")).toContainText(
    "Grease the sheaves.",
  );
});

test("a note to a colleague is left on words, answered by the other writer and done, and is never printed", async ({
  page,
  browser,
  server,
}) => {
  const made = await server.post<{ id: string }>("/manuals", {
    title: "Notes",
  });
  const division = await openAt(page, server, made.id, "First chapter");
  await page.locator(".manuscript").focus();
  await page.keyboard.type("The drum holds forty metres");
  for (let n = 0; n < "forty metres".length; n++)
    await page.keyboard.press("Shift+ArrowLeft");
  await page.keyboard.press("Control+;");
  await page.keyboard.press("m");
  const panel = page.getByRole("dialog", { name: "Note to a colleague" });
  await expect(panel).toContainText("“forty metres”");
  await page.keyboard.type("Is this still so?");
  await page.keyboard.press("Tab");
  await page.keyboard.type("Ida");
  await page.keyboard.press("Enter");
  await expect(page.locator(".manuscript .noted")).toHaveText("forty metres");
  await page.keyboard.press("End");
  await page.keyboard.type(".");
  await settled(page);
  // The colleague, in a browser of her own.
  const context = await browser.newContext();
  const hers = await context.newPage();
  await openAt(hers, server, made.id, "First chapter");
  await hers.keyboard.press("F9");
  const list = hers.getByRole("region", { name: "Notes" });
  await expect(list).toContainText("open 1");
  await list.getByRole("button", { name: /Is this still so/ }).click();
  await hers.locator(".manuscript .writer-note").click();
  await hers.keyboard.press("Control+.");
  const answer = hers.getByRole("dialog", { name: "Note to a colleague" });
  await answer.getByLabel("Answer", { exact: true }).fill("Yes, measured.");
  await answer.getByLabel("Your name").fill("Bo");
  await hers.keyboard.press("Enter");
  await expect(list).toContainText("answered 1");
  await settled(hers);
  // Its first writer reads the answer and has done with it.
  await page.locator(".manuscript .writer-note").click();
  await page.keyboard.press("Control+.");
  await expect(panel).toContainText("Yes, measured.");
  await panel.getByRole("button", { name: "Done" }).click();
  await expect(page.locator(".manuscript .noted")).toHaveCount(0);
  await expect(list).toContainText("done 1");
  await settled(page);
  const printed = await divisionText(server, made.id, "Chapter");
  expect(printed).toContain("The drum holds forty metres.");
  expect(printed).not.toContain("Is this");
  expect(
    JSON.stringify(await blocksOf(server, made.id, division.id)),
  ).toContain('"by":"Bo"');
  await context.close();
});
