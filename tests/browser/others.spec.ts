// References from one manual of the shelf into another: put in, printed, grown old, taken anew.
import { blocksOf, openAt, settled } from "./desk";
import { expect, test } from "./server";

test("a reference into another manual prints what that manual says, tells when it says otherwise, and takes it by one press", async ({
  page,
  server,
}) => {
  const there = await server.demo();
  const { id } = await server.post<{ id: string }>("/manuals", {
    title: "Winter service",
  });
  const division = await openAt(page, server, id, "First chapter");
  await page.locator(".manuscript").focus();
  await page.keyboard.type("Read it before the ice comes: ");
  await page.keyboard.press("Control+;");
  await page.keyboard.press("x");
  const panel = page.getByRole("dialog", { name: "Point at" });
  const { title } = (
    await server.get<{ id: string; title: string }[]>("/manuals")
  ).find((m) => m.id === there)!;
  await panel.getByLabel("In which manual").selectOption({ label: title });
  await panel
    .getByRole("textbox", { name: "Point at" })
    .fill("Limits of wind and water");
  await expect(panel.getByRole("option").first()).toContainText("2.2");
  await panel.getByRole("radio", { name: "page" }).last().click();
  await settled(page);
  const reference = page.locator(".manuscript .reference");
  await expect(reference).toContainText(`“${title}”`);
  const printed = (await reference.textContent())!;
  await expect(page.locator(".proof .page svg").first()).toContainText(
    printed.replaceAll(/[\s\u00a0]/g, ""),
  );
  // An empty index; nothing else.
  await expect(page.locator(".settled")).toContainText(/ 1 loose end\b/);

  // There the section gets another title and number.
  const own = await openAt(page, server, there, "Before the first crossing");
  const head = page
    .locator(".manuscript .head", { hasText: "Limits of wind and water" })
    .first();
  await head.click();
  await page.keyboard.press("End");
  await page.keyboard.type(" and ice");
  await settled(page);
  expect(JSON.stringify(await blocksOf(server, there, own.id))).toContain(
    "water and ice",
  );

  // Here it prints what it printed, and that it grew old is a loose end with a press that mends it.
  await page.goto(`${server.url}/#/${id}/${division.id}`);
  await expect(reference).toHaveText(printed);
  await expect(page.locator(".settled")).toContainText("2 loose ends");
  await page.getByRole("button", { name: /loose end/ }).click();
  const drawer = page.getByLabel("Loose ends", { exact: true });
  await expect(drawer).toContainText("Limits of wind and water and ice");
  await drawer.getByRole("button", { name: "Take what it says now" }).click();
  await expect(page.locator(".settled")).toContainText(/ 1 loose end\b/);
  await expect
    .poll(async () =>
      JSON.stringify(await blocksOf(server, id, division.id)).includes(
        "water and ice",
      ),
    )
    .toBe(true);

  // It is gone to like any other, in the manual where it stands.
  await reference.click();
  await page.keyboard.press("Enter");
  await expect(page.getByLabel("Title of the division")).toHaveValue(
    "Before the first crossing",
  );
});

test("a reference into a manual that has left the shelf says so and goes on printing", async ({
  page,
  server,
}) => {
  const { id: other } = await server.post<{ id: string }>("/manuals", {
    title: "Short lived",
  });
  const { id } = await server.post<{ id: string }>("/manuals", {
    title: "Stays",
  });
  const division = await openAt(page, server, id, "First chapter");
  await page.locator(".manuscript").focus();
  await page.keyboard.type("See ");
  await page.keyboard.press("Control+;");
  await page.keyboard.press("x");
  const panel = page.getByRole("dialog", { name: "Point at" });
  await panel
    .getByLabel("In which manual")
    .selectOption({ label: "Short lived" });
  await panel.getByRole("textbox", { name: "Point at" }).fill("First chapter");
  await expect(panel.getByRole("option").first()).toContainText(
    "First chapter",
  );
  await page.keyboard.press("Enter");
  await settled(page);
  await expect(page.locator(".manuscript .reference")).toContainText(
    "“Short lived”",
  );
  await server.delete(`/manuals/${other}`);
  await page.goto(`${server.url}/#/`);
  // A busy page merges two addresses that follow at once: the manual is left only when the shelf is there.
  await expect(
    page.getByRole("button", { name: "Bring in documents…" }),
  ).toBeVisible();
  await page.goto(`${server.url}/#/${id}/${division.id}`);
  await expect(page.locator(".settled")).toContainText("2 loose ends");
  await page.getByRole("button", { name: /loose end/ }).click();
  await expect(page.getByLabel("Loose ends", { exact: true })).toContainText(
    "is not on the shelf any more",
  );
  await expect(page.locator(".manuscript .reference")).toContainText(
    "“Short lived”",
  );
});

test("what other manuals say is asked again when the server did not answer", async ({
  page,
  server,
}) => {
  const { id } = await server.post<{ id: string }>("/manuals", {
    title: "Asks twice",
  });
  let asked = 0;
  await page.route("**/others", (route) =>
    ++asked === 1
      ? route.abort()
      : route.fulfill({
          json: [
            {
              id: "r",
              division: "",
              block: "",
              words: "See",
              message: "“Short lived” is not on the shelf any more.",
              now: null,
            },
          ],
        }),
  );
  await openAt(page, server, id, "First chapter");
  await expect(page.locator(".settled")).toContainText("2 loose ends");
  expect(asked).toBe(2);
});

test("a variable is given to the shelf, put in by another manual, and newer text of it is told and taken", async ({
  page,
  server,
}) => {
  const name = `grease ${Math.random().toString(36).slice(2, 8)}`;
  const [one, two] = await Promise.all(
    ["Winch handbook", "Ramp handbook"].map((title) =>
      server.post<{ id: string }>("/manuals", { title }),
    ),
  );
  await openAt(page, server, one!.id, "First chapter");
  await page.keyboard.press("F4");
  const drawer = page.getByLabel("Kept once", { exact: true });
  await drawer.getByLabel("Name of a new variable").fill(name);
  await drawer.getByLabel("Text of the new variable").fill("Kelvet 46");
  await page.keyboard.press("Enter");
  const row = drawer.getByRole("listitem").filter({
    has: page.getByLabel(`Text of ${name}`),
  });
  await row.getByRole("button", { name: "Give to the shelf" }).click();
  await expect(row).toContainText("On the shelf.");

  const division = await openAt(page, server, two!.id, "First chapter");
  await page.locator(".manuscript").focus();
  await page.keyboard.type("Use only ");
  await page.keyboard.press("Control+;");
  await page.keyboard.press("v");
  await page
    .getByRole("dialog", { name: "Variable" })
    .getByRole("textbox")
    .fill(name);
  await page.keyboard.press("Enter");
  await expect(page.locator(".manuscript .variable")).toHaveText("Kelvet 46");
  await settled(page);
  expect(
    JSON.stringify(await blocksOf(server, two!.id, division.id)),
  ).toContain(name);

  await openAt(page, server, one!.id, "First chapter");
  await page.keyboard.press("F4");
  await drawer.getByLabel(`Text of ${name}`).fill("Kelvet 68");
  await page.keyboard.press("Enter");
  await row.getByRole("button", { name: /Give .* to the shelf/ }).click();
  await expect(row).toContainText("On the shelf.");

  await openAt(page, server, two!.id, "First chapter");
  await page.keyboard.press("F4");
  await expect(row).toContainText("The shelf says Kelvet 68.");
  await row.getByRole("button", { name: /as the shelf says it/ }).click();
  await expect(page.locator(".manuscript .variable")).toHaveText("Kelvet 68");
});
