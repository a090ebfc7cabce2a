// Finding and replacing: over a division, a manual, all manuals; by role.
import { openAt, settled } from "./desk";
import { expect, test, type KivrenServer } from "./server";

const found = async (
  server: KivrenServer,
  manual: string,
  words: string,
  where: string | null = null,
) =>
  (
    await server.post<{ total: number }>(`/manuals/${manual}/find`, {
      words,
      wholeWords: true,
      sameCase: false,
      pattern: false,
      division: null,
      where,
    })
  ).total;

test("a word is found in the whole manual, replaced in the chosen places and in all, and taken back with one key", async ({
  page,
  server,
}) => {
  const manual = await server.demo();
  const count = (words: string) => found(server, manual, words);
  const all = await count("brake");
  expect(all).toBeGreaterThan(40);
  await openAt(page, server, manual, "Winch and brake");
  await page.locator(".manuscript > p").first().click();
  await page.keyboard.press("Control+f");
  const drawer = page.getByRole("region", { name: "Find" });
  await drawer.getByRole("textbox", { name: "Find" }).fill("brake");
  await drawer.getByLabel("whole words").check();
  await expect(drawer.getByRole("status")).toContainText(`${all} places`);
  // Down and Enter: there.
  await drawer.getByRole("textbox", { name: "Find" }).focus();
  await page.keyboard.press("ArrowDown");
  await page.keyboard.press("Enter");
  await expect(page.getByLabel("Title of the division")).not.toHaveValue(
    "Winch and brake",
  );
  await page.locator(".fore button", { hasText: "9 Winch and brake" }).click();
  await drawer.getByLabel("replace", { exact: true }).check();
  await drawer.getByRole("textbox", { name: "Replace by" }).fill("gripper");
  await drawer.getByLabel("Replace here").first().uncheck();
  await drawer
    .getByRole("button", { name: /^Replace the \d+ chosen$/ })
    .click();
  await expect(drawer.getByRole("status")).toContainText("1 place");
  await settled(page);
  expect(await count("brake")).toBe(1);
  expect(await count("gripper")).toBe(all - 1);
  await expect(page.locator(".manuscript")).toContainText("gripper");
  // One key takes all of it back, and again does it again.
  await page.locator(".manuscript > p").first().click();
  await page.keyboard.press("Control+z");
  await expect.poll(() => count("brake")).toBe(all);
  expect(await count("gripper")).toBe(0);
  await expect(page.locator(".manuscript")).not.toContainText("gripper");
  // An expression that is none says so, and nothing is replaced.
  await drawer.getByLabel("expression").check();
  await drawer.getByRole("textbox", { name: "Find" }).fill("(bra");
  await expect(drawer.getByRole("status")).toContainText(
    "no regular expression",
  );
  await drawer.getByRole("textbox", { name: "Find" }).fill("(bra)(ke)");
  await drawer.getByRole("textbox", { name: "Replace by" }).fill("$2$1");
  await expect(drawer.getByRole("status")).toContainText(/\d+ places/);
  await drawer.getByRole("button", { name: /^Replace all \d+$/ }).click();
  await expect.poll(() => count("kebra")).toBeGreaterThan(40);
  await page.getByRole("button", { name: "Take back", exact: true }).click();
  await expect.poll(() => count("brake")).toBe(all);
});

test("what is found moves none of the controls away from under a press", async ({
  page,
  server,
}) => {
  const manual = await server.post<{ id: string }>("/manuals/sample", {});
  await openAt(page, server, manual.id, "Winch and brake");
  await settled(page);
  await page.keyboard.press("Control+f");
  const drawer = page.getByRole("region", { name: "Find" });
  const controls = drawer.locator("header input, header select, header button");
  const places = () =>
    controls.evaluateAll((all) =>
      all.map((c) => {
        const { x, y } = c.getBoundingClientRect();
        return `${x} ${y}`;
      }),
    );
  const before = await places();
  expect(before.length).toBeGreaterThan(6);
  for (const words of ["e", "no such words", "Band release"]) {
    await drawer.getByRole("textbox", { name: "Find" }).fill(words);
    await expect(drawer.getByRole("status")).toContainText(
      words.startsWith("no") ? /^0 places/ : /^[1-9]\d* places/,
    );
    expect(await places()).toEqual(before);
  }
});

test("words are found by their role and in variables, replaced in every manual, and taken back in each", async ({
  page,
  server,
}) => {
  const one = await server.post<{ id: string }>("/manuals/sample", {});
  const two = await server.post<{ id: string }>("/manuals/sample", {});
  const counts = async (words: string) => [
    await found(server, one.id, words),
    await found(server, two.id, words),
  ];
  const before = await counts("Tarn");
  expect(before[0]).toBeGreaterThan(3);
  expect(await found(server, one.id, "Tarn", "variable")).toBeGreaterThan(0);
  await openAt(page, server, one.id, "Winch and brake");
  await settled(page);
  await page.keyboard.press("Control+f");
  const drawer = page.getByRole("region", { name: "Find" });
  const status = drawer.getByRole("status");
  const words = drawer.getByRole("textbox", { name: "Find" });
  // As a control, and not where it is only said.
  await words.fill("Band release");
  await expect(status).toContainText(/\d+ places/);
  const everywhere = Number((await status.textContent())!.split(" ")[0]);
  await drawer.getByLabel("In which places").selectOption("as control");
  await expect(status).not.toContainText(`${everywhere} place`);
  await expect(status).toContainText(/[1-9]\d* place/);
  await drawer.getByLabel("In which places").selectOption("in all places");
  // In all manuals; a place of another one opens that.
  await words.fill("Tarn");
  await drawer.getByLabel("whole words").check();
  await drawer.getByLabel("Where to look").selectOption("all manuals");
  await expect(
    drawer.getByText("Tarn 6 Operating and Maintenance Manual").first(),
  ).toBeVisible();
  await drawer.getByLabel("replace", { exact: true }).check();
  await drawer.getByRole("textbox", { name: "Replace by" }).fill("Fjord");
  await drawer.getByRole("button", { name: /^Replace all \d+$/ }).click();
  await expect.poll(() => counts("Fjord")).toEqual(before);
  expect(await counts("Tarn")).toEqual([0, 0]);
  await page.getByRole("button", { name: "Take back", exact: true }).click();
  await expect.poll(() => counts("Tarn")).toEqual(before);
  await words.fill("winch");
  await expect(status).toContainText(/\d+ places/);
  await drawer
    .locator("li button", { hasText: "Maintenance Manual" })
    .first()
    .click();
  await expect(page).not.toHaveURL(new RegExp(one.id));
  await expect(page.locator(".manuscript").first()).toBeFocused();
});
