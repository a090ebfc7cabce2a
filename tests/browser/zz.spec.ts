import { openAt, settled } from "./desk";
import { test } from "./server";
test("look", async ({ page, server }) => {
  await page.setViewportSize({ width: 1280, height: 800 });
  const manual = await server.demo();
  await openAt(page, server, manual, "Technical data");
  await settled(page);
  await page.getByRole("table").first().locator("td").nth(4).click();
  await page.keyboard.press("Control+.");
  await page.waitForTimeout(300);
  console.log(await page.getByRole("table").first().evaluate((t) => [getComputedStyle(t).width, getComputedStyle(t).display, t.outerHTML.slice(0, 100), getComputedStyle(t.parentElement!).width, getComputedStyle(t.parentElement!).display]));
  await page.screenshot({ path: "/tmp/w/a.png" });
});
