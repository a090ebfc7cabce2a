import { blocksOf, openAt, settled, textOf } from "./desk";
import { expect, test } from "./server";

test("a misspelt word is underlined, mended by what it may be, and a word of the trade is accepted for the manual", async ({
  page,
  server,
}) => {
  const made = await server.post<{ id: string }>("/manuals", {
    title: "Spelling",
  });
  const division = await openAt(page, server, made.id, "First chapter");
  const text = async () =>
    textOf((await blocksOf(server, made.id, division.id))[0]);
  await page.locator(".manuscript").focus();
  await page.keyboard.type(
    "Grease the brigde and the kivlink, then the brigde",
  );
  const wrong = page.locator(".manuscript .misspelt");
  await expect(wrong).toHaveText(["brigde", "kivlink", "brigde"]);
  // Where the caret stands.
  await page.keyboard.press("Control+.");
  await page.getByRole("button", { name: "“brigde”: bridge" }).click();
  await expect(wrong).toHaveText(["brigde", "kivlink"]);
  await page.keyboard.type(".");
  // In the list of the division, by keys.
  await page.keyboard.press("F10");
  const list = page.getByRole("grid", {
    name: "Words that no dictionary has",
  });
  await expect(list).toBeFocused();
  await expect(list.getByRole("button", { name: "bridge 1" })).toBeVisible();
  await page.keyboard.press("1");
  await expect(list.getByRole("row")).toHaveCount(1);
  await page.keyboard.press("a");
  await expect(list).toContainText("Nothing is misspelt here.");
  await page.keyboard.press("Escape");
  await settled(page);
  expect(await text()).toBe(
    "Grease the bridge and the kivlink, then the bridge.",
  );
  await expect(wrong).toHaveCount(0);
  // It is accepted for whoever opens the manual.
  await page.reload();
  await expect(page.locator(".manuscript")).toContainText("kivlink");
  await page.locator(".manuscript p").click();
  await page.keyboard.press("End");
  await page.keyboard.type(" Brigde kivlink.");
  await expect(wrong).toHaveText(["Brigde"]);
});
