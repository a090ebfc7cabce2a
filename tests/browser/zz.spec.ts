import { openAt } from "./desk";
import { test } from "./server";
test("look", async ({ page, server }) => {
  const made = await server.post<{ id: string }>("/manuals", { title: "Notes" });
  await openAt(page, server, made.id, "First chapter");
  await page.locator(".manuscript").focus();
  page.on("filechooser", () => console.log("CHOOSER"));
  await page.waitForTimeout(300);
  await page.evaluate(() => {
    const i = document.querySelector<HTMLInputElement>("input[type=file]")!;
    i.addEventListener("click", (e) => console.log("clicked", navigator.userActivation.isActive, i.isConnected, e.defaultPrevented));
  });
  page.on("console", (m) => console.log(m.text()));
  await page.keyboard.press("Control+;");
  await page.keyboard.press("f");
  await page.waitForTimeout(500);
});
