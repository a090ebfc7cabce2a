import AxeBuilder from "@axe-core/playwright";
import { bringIn, openAt, openPlan } from "./desk";
import { expect, KivrenServer, test } from "./server";

test("the shelf shows the demo as a spine and opens it", async ({
  page,
  server,
}) => {
  await page.goto(server.url);
  await expect(page.getByRole("option").first()).toBeVisible();
  await page.getByRole("option").first().dblclick();
  await expect(page.locator(".manuscript")).toBeVisible();
});

test("a new manual, typed and seen; deleted and put back", async ({
  page,
  server,
}) => {
  await page.goto(server.url);
  await page.getByRole("button", { name: "New manual…" }).click();
  await page.getByLabel("Title of the new manual").fill("Winter lay-up");
  await page.keyboard.press("Enter");
  await expect(page.locator(".manuscript")).toBeVisible();
  await page.locator(".manuscript").focus();
  await page.keyboard.type("Pull her ashore before the first ice.");
  await expect(page.locator(".proof .page svg").first()).toContainText(
    "ashore",
  );
  await page.getByTitle("Open the shelf").click();
  const spine = page.getByRole("option", { name: /Winter lay-up/ });
  await spine.click();
  await page.getByRole("button", { name: "Take off the shelf" }).click();
  await expect(spine).toHaveCount(0);
  await page.getByRole("button", { name: "Take back", exact: true }).click();
  await expect(spine).toHaveCount(1);
});

test("a PDF is produced with progress and offered to take away", async ({
  page,
  server,
}) => {
  const manual = await server.demo();
  await openAt(page, server, manual, "Crossing");
  await page.getByRole("button", { name: "Produce PDF" }).click();
  const link = page.getByRole("link", { name: /Take the PDF/ });
  await expect(link).toBeVisible({ timeout: 30_000 });
  const [download] = await Promise.all([
    page.waitForEvent("download"),
    link.click(),
  ]);
  expect(download.suggestedFilename()).toBe(
    "Tarn 6 Operating and Maintenance Manual – Both models, print.pdf",
  );
});

test("go and do finds a head, a page and a command", async ({
  page,
  server,
}) => {
  const manual = await server.demo();
  await openAt(page, server, manual, "Crossing");
  await page.keyboard.press("Control+k");
  await page.keyboard.type("p iii");
  await page.keyboard.press("Enter");
  await expect(page.locator(".proof .page").first()).toHaveAttribute(
    "data-folio",
    "iii",
  );
  await page.keyboard.press("Control+k");
  await page.keyboard.type("loose");
  await page.getByRole("dialog").getByText("Show loose ends").click();
  await expect(
    page.getByRole("listbox", { name: "What would print wrong" }),
  ).toContainText("is marked as a term");
});

test("a division is added, taken out and taken back", async ({
  page,
  server,
}) => {
  const manual = await server.demo();
  await openAt(page, server, manual, "Crossing");
  await page.getByRole("button", { name: "Add a division…" }).click();
  await page.keyboard.type("Chap");
  await page.keyboard.press("Enter");
  await expect(page.getByLabel("Title of the division")).toHaveValue(
    "Untitled",
  );
  await page.getByLabel("Title of the division").fill("Lake signals");
  await page.getByLabel("Title of the division").press("Enter");
  await expect(page.locator(".fore")).toContainText("4 Lake signals");
  await page.getByRole("button", { name: "Take this one out" }).click();
  await expect(page.locator(".fore")).not.toContainText("Lake signals");
  await page.getByRole("button", { name: "Take back", exact: true }).click();
  await expect(page.locator(".fore")).toContainText("4 Lake signals");
});

test("no screen has a serious fault of access, light or dark", async ({
  page,
  server,
}) => {
  const manual = await server.demo();
  for (const colorScheme of ["light", "dark"] as const) {
    await page.emulateMedia({ colorScheme });
    await page.goto(server.url + "/#/");
    await expect(page.getByRole("option").first()).toBeVisible();
    for (const where of ["shelf", "write", "plan", "bring in"]) {
      if (where === "write")
        await openAt(page, server, manual, "Winch and brake");
      if (where === "plan") await openPlan(page, server, manual);
      if (where === "bring in")
        await bringIn(page, server, ["winch-leaflet.docx"]);
      const found = await new AxeBuilder({ page })
        .exclude(".page")
        .withTags(["wcag2a", "wcag2aa", "wcag21aa", "wcag22aa"])
        .analyze();
      expect(
        found.violations
          .filter((v) => v.impact === "serious" || v.impact === "critical")
          .map(
            (v) =>
              `${colorScheme} ${where}: ${v.id}: ${v.nodes
                .map((n) => n.html)
                .slice(0, 3)
                .join(" | ")}`,
          ),
      ).toEqual([]);
    }
  }
});

test("every view has one h1 and a main landmark; the shelf says when the server is away, and comes back by itself", async ({
  page,
}) => {
  const server = new KivrenServer();
  await server.start();
  try {
    const manual = await server.demo();
    for (const place of ["", `${manual}`, `${manual}/plan`]) {
      await page.goto(`${server.url}/#/${place}`);
      await expect(page.locator("h1")).toHaveCount(1);
      await expect(page.getByRole("main")).toHaveCount(1);
    }
    // What one manual tells stays with it; the shelf remembers which was left.
    await page.goto(`${server.url}/#/${manual}`);
    await expect(page.locator(".manuscript")).toBeVisible();
    await page.getByRole("button", { name: "Take this one out" }).click();
    const undo = page.getByRole("button", { name: "Take back", exact: true });
    await expect(undo).toBeVisible();
    await page.locator("header .sign").click();
    await expect(page.getByRole("option").first()).toBeVisible();
    await expect(undo).toBeHidden();
    await expect(
      page.locator("[role=option][aria-selected=true]"),
    ).toHaveAttribute("id", `spine-${manual}`);
    await page.route("**/api/manuals", (route) => route.abort());
    await page.reload();
    await expect(page.getByText("The server cannot be reached.")).toBeVisible();
    await expect(page.getByText("0 manuals")).toBeHidden();
    await page.unroute("**/api/manuals");
    await expect(page.getByRole("option").first()).toBeVisible();
  } finally {
    await server.kill();
  }
});
