import { blocksOf, openAt, openPlan, proofOf, rowOf, textOf } from "./desk";
import { expect, test } from "./server";

const titles = (page: import("@playwright/test").Page) =>
  page.locator(".row .words").allTextContents();
const language = async (
  page: import("@playwright/test").Page,
  label: string,
  name: string,
) => {
  await page.getByRole("textbox", { name: label }).fill(name);
  await page.keyboard.press("Enter");
};
const settledAt = async (page: import("@playwright/test").Page) => {
  await expect(page.locator(".settled .moving")).toHaveCount(0);
};

test("a section goes two levels up with all beneath, and one key takes it back", async ({
  page,
  server,
}) => {
  const manual = await server.demo();
  await openPlan(page, server, manual);
  await page.getByRole("button", { name: "C", exact: true }).click();
  // A B head with its text: up to an A head, then out as a chapter of its own.
  const head = rowOf(page, "When a crossing turn is seen");
  await head.click();
  const words = await head.locator(".n").last().textContent();
  await page.keyboard.press("Shift+Tab");
  await expect(head.locator(".number")).toHaveText(/^3\.\d$/);
  await page.keyboard.press("Shift+Tab");
  await expect(head.locator(".number")).toHaveText(/^4$/);
  await expect(head.locator(".n").last()).toHaveText(words!);
  await settledAt(page);
  const proof = await proofOf(server, manual);
  expect(
    proof.divisions.find((d) => d.title === "When a crossing turn is seen")!
      .kind,
  ).toBe("Chapter");
  await page.keyboard.press("Control+z");
  await expect(head.locator(".number")).toHaveText(/^3\.\d$/);
  await page.keyboard.press("Control+z");
  await expect(head.locator(".number")).toHaveText("");
});

test("a section is dragged to another chapter; the line says where it lands", async ({
  page,
  server,
}) => {
  const manual = await server.demo();
  await openPlan(page, server, manual);
  const from = rowOf(page, "Ramps");
  const to = rowOf(page, "Making ready");
  const a = (await from.locator(".words").boundingBox())!;
  const b = (await to.locator(".words").boundingBox())!;
  await page.mouse.move(a.x + 10, a.y + 8);
  await page.mouse.down();
  await page.mouse.move(a.x + 14, a.y + 30);
  await page.mouse.move(b.x + 12, b.y + 4, { steps: 6 });
  await expect(page.locator(".landing")).toContainText(
    /lands here as 2\.\d under 2 Before the first crossing/,
  );
  await page.mouse.up();
  await expect
    .poll(async () => (await titles(page)).indexOf("Ramps") + 1)
    .toBe((await titles(page)).indexOf("Making ready"));
  await expect(rowOf(page, "Ramps").locator(".number")).toHaveText(/^2\.\d$/);
});

test("a chapter is split before a head and joined again", async ({
  page,
  server,
}) => {
  const manual = await server.demo();
  await openPlan(page, server, manual);
  const before = await proofOf(server, manual);
  const chapter = before.divisions.find((d) => d.title === "Crossing")!;
  const blocks = (await blocksOf(server, manual, chapter.id)).length;
  await rowOf(page, "Coming alongside").click();
  await page.keyboard.press("s");
  await expect(rowOf(page, "Coming alongside").locator(".number")).toHaveText(
    "4",
  );
  await settledAt(page);
  const split = (await proofOf(server, manual)).divisions.find(
    (d) => d.title === "Coming alongside",
  )!;
  expect(
    (await blocksOf(server, manual, chapter.id)).length +
      (await blocksOf(server, manual, split.id)).length,
  ).toBe(blocks - 1);
  await page.keyboard.press("j");
  await expect(rowOf(page, "Coming alongside").locator(".number")).toHaveText(
    /^3\.\d$/,
  );
  await expect
    .poll(async () => (await blocksOf(server, manual, chapter.id)).length)
    .toBe(blocks);
});

test("several rows move together by key; a refusal says why", async ({
  page,
  server,
}) => {
  const manual = await server.demo();
  await openPlan(page, server, manual);
  await rowOf(page, "Hull and deck").click();
  await page.keyboard.press("Shift+ArrowDown");
  await expect(page.locator(".row.chosen")).toHaveCount(2);
  await page.keyboard.press("Alt+ArrowDown");
  await expect
    .poll(async () =>
      (await titles(page)).slice(
        (await titles(page)).indexOf("Winch and brake"),
      ),
    )
    .toEqual(expect.arrayContaining(["Hull and deck", "Ramps"]));
  await rowOf(page, "The ferry and its parts").click();
  await page.keyboard.press("Tab");
  await expect(
    page.getByText("There is no chapter before it to stand in."),
  ).toBeVisible();
});

test("a glossary finds its own place; a head is typed; a title is renamed", async ({
  page,
  server,
}) => {
  const manual = (
    await server.post<{ id: string }>("/manuals", { title: "Small" })
  ).id;
  await openPlan(page, server, manual);
  await page.getByRole("button", { name: "New division…" }).click();
  await page.keyboard.type("Gloss");
  await page.keyboard.press("Enter");
  await expect(
    page.getByRole("textbox", { name: "Title", exact: true }),
  ).toHaveValue("Glossary");
  await page.keyboard.press("Enter");
  await expect
    .poll(async () => await titles(page))
    .toEqual(["Title page", "Contents", "First chapter", "Glossary", "Index"]);
  await rowOf(page, "First chapter").click();
  await page.keyboard.press("n");
  await page.keyboard.type("Slack and strain");
  await page.keyboard.press("Enter");
  await expect(rowOf(page, "Slack and strain").locator(".number")).toHaveText(
    "1.1",
  );
  await page.getByRole("tree").focus();
  await rowOf(page, "First chapter").click();
  await page.keyboard.press("r");
  await page.keyboard.type("Cables");
  await page.keyboard.press("Enter");
  await expect(rowOf(page, "Cables")).toBeVisible();
});

test("the text under a head is read and typed in the plan", async ({
  page,
  server,
}) => {
  const manual = await server.demo();
  await openPlan(page, server, manual);
  await rowOf(page, "Ramps").click();
  await page.keyboard.press("o");
  const text = page.locator(".under .manuscript");
  await expect(text).toBeVisible();
  await expect(text).toBeFocused();
  await page.keyboard.press("Control+Home");
  await page.keyboard.type("Sweep them first. ");
  const chapter = (await proofOf(server, manual)).divisions.find(
    (d) => d.title === "The ferry and its parts",
  )!;
  await expect
    .poll(async () =>
      (await blocksOf(server, manual, chapter.id))
        .map(textOf)
        .some((t) => t.startsWith("Sweep them first. ")),
    )
    .toBe(true);
  const heads = (await blocksOf(server, manual, chapter.id)).map((b) =>
    b.type === "head" ? textOf(b) : "",
  );
  const at = (await blocksOf(server, manual, chapter.id)).findIndex((b) =>
    textOf(b).startsWith("Sweep them first."),
  );
  expect(heads[at - 1]).toBe("Ramps");
  await page.keyboard.press("Escape");
  await expect(text).toHaveCount(0);
  await expect(page.getByRole("tree")).toBeFocused();
});

test("depth, folding and state", async ({ page, server }) => {
  const manual = await server.demo();
  await openPlan(page, server, manual);
  await page.getByRole("button", { name: "Parts", exact: true }).click();
  await expect(rowOf(page, "Operating")).toBeVisible();
  await expect(rowOf(page, "Crossing")).toHaveCount(0);
  await rowOf(page, "Operating").click();
  await page.keyboard.press("ArrowRight");
  await expect(rowOf(page, "Crossing")).toBeVisible();
  await rowOf(page, "Crossing").click();
  await page.keyboard.press("2");
  await expect(page.getByLabel("State of Crossing")).toHaveValue("Checked");
  await page.getByRole("button", { name: "Text", exact: true }).click();
  await expect(page.locator(".row.level6").first()).toBeVisible();
});

test("a chapter begins on a left-hand page, and Look names it", async ({
  page,
  server,
}) => {
  const manual = await server.demo();
  await openPlan(page, server, manual);
  await rowOf(page, "Crossing").click();
  await page.keyboard.press("b");
  const begins = page.getByLabel("Where Crossing begins");
  await expect(begins).toBeFocused();
  await begins.selectOption("begins a left-hand page");
  await expect(page.getByRole("tree")).toBeFocused();
  await expect
    .poll(async () => {
      const { divisions } = await proofOf(server, manual);
      return divisions.find((d) => d.title === "Crossing")!.firstSheet % 2;
    })
    .toBe(1);
  await page.goto(`${server.url}/#/${manual}/look`);
  await page.getByRole("button", { name: "Chapter", exact: true }).click();
  await page.getByRole("button", { name: "3 Crossing" }).click();
  await expect(rowOf(page, "Crossing")).toHaveAttribute(
    "aria-selected",
    "true",
  );
  await page.keyboard.press("Control+z");
  await expect(page.getByText(/^Taken back: /)).toBeVisible();
  await expect(page.getByLabel("Where Crossing begins")).toHaveValue("ByLook");
});

test("a chapter speaks another language, then the whole manual; both are taken back", async ({
  page,
  server,
}) => {
  const manual = await server.demo();
  await openPlan(page, server, manual);
  const chapter = rowOf(page, "Crossing");
  await chapter.click();
  await page.keyboard.press("l");
  await language(page, "Language of what is chosen", "Swedish");
  await expect(chapter.locator(".language")).toHaveText("sv");
  await settledAt(page);
  await page.keyboard.press("Control+z");
  await expect(chapter.locator(".language")).toHaveCount(0);
  await page.getByTitle("The language of the whole manual").click();
  await language(page, "Language of the manual", "German");
  await expect(page.getByTitle("The language of the whole manual")).toHaveText(
    "German (de)",
  );
  await expect(page.locator(".row .language")).toHaveCount(0);
  await page.keyboard.press("Control+z");
  await expect(
    page.getByTitle("The language of the whole manual"),
  ).toContainText("English");
});

test("an inspection code starts from its pattern; fixed text says where it comes from", async ({
  page,
  server,
}) => {
  await page.goto(server.url);
  await page.getByRole("button", { name: "New manual…" }).click();
  await page.getByRole("radio", { name: /Inspection code/ }).check();
  await page
    .getByLabel("Title of the new manual")
    .fill("Landing stages: inspection");
  await page
    .getByLabel("What is the code’s designation?".replace("’", "'"))
    .fill("LS-1");
  await page
    .getByLabel("What does it apply to?")
    .fill("Landing stages of lake ferries");
  await page.getByLabel("Who issues it?").fill("The Norrvik lake board");
  await page.getByLabel("In which year?").fill("2026");
  await page.getByRole("button", { name: "Make it" }).click();
  await expect(rowOf(page, "Scope").locator(".number")).toHaveText("1");
  await expect(
    rowOf(page, "Terms and definitions").locator(".number"),
  ).toHaveText("3");
  const manual = /#\/([0-9a-f]{32})/.exec(page.url())![1]!;
  expect(
    (await proofOf(server, manual)).looseEnds.filter(
      (l) => !l.message.includes("only its title"),
    ),
  ).toEqual([]);
  await openAt(page, server, manual, "Foreword");
  await expect(page.locator(".manuscript .fixed").first()).toContainText(
    "The Norrvik lake board",
  );
  await page.locator(".manuscript .fixed").first().click();
  await page.keyboard.type("zzz");
  await expect(
    page.getByText("This text is fixed by the pattern “Inspection code”"),
  ).toBeVisible();
  await expect(page.locator(".manuscript .fixed").first()).not.toContainText(
    "zzz",
  );
});

test("a role of the manual’s own is made from the role list and kept", async ({
  page,
  server,
}) => {
  const manual = await server.demo();
  const division = await openAt(page, server, manual, "Crossing");
  const text = page.locator(".manuscript > p").nth(1);
  await text.click();
  await page.keyboard.press("Control+.");
  await page.keyboard.type("Pilot’s remark");
  await page.keyboard.press("Enter");
  await expect(
    page.locator('.manuscript [data-own-role="Pilot’s remark"]'),
  ).toBeVisible();
  await expect
    .poll(async () =>
      (await blocksOf(server, manual, division.id)).some(
        (b) => b.attrs.ownRole === "Pilot’s remark",
      ),
    )
    .toBe(true);
  await page.locator(".manuscript > p").nth(3).click();
  await page.keyboard.press("Control+.");
  await page.keyboard.type("Pilot");
  await page.keyboard.press("Enter");
  await expect(
    page.locator('.manuscript [data-own-role="Pilot’s remark"]'),
  ).toHaveCount(2);
});

test("a chapter is carried into another part by keys, and one key takes it back", async ({
  page,
  server,
}) => {
  const manual = await server.demo();
  await openPlan(page, server, manual);
  const order = async () =>
    (await proofOf(server, manual)).divisions.map((d) => d.title);
  const before = await order();
  await page.getByRole("button", { name: "Chapters", exact: true }).click();
  await rowOf(page, "Signals and radio").click();
  await page.keyboard.press("Control+x");
  await expect(page.locator(".row.carried")).toHaveCount(1);
  await rowOf(page, "Troubleshooting").click();
  await page.keyboard.press("Control+v");
  await expect(page.locator(".row.carried")).toHaveCount(0);
  await expect
    .poll(async () => {
      const now = await order();
      return (
        now.indexOf("Signals and radio") > now.indexOf("Troubleshooting") &&
        now.indexOf("Signals and radio") < now.indexOf("Technical data")
      );
    })
    .toBe(true);
  await page.keyboard.press("Control+z");
  await expect.poll(order).toEqual(before);
});

test("what a chapter applies to is set in the plan, told there, and taken back", async ({
  page,
  server,
}) => {
  const made = await server.post<{ id: string }>("/manuals", {
    title: "Applies",
  });
  await server.post(`/manuals/${made.id}/kept-once`, {
    id: crypto.randomUUID(),
    writer: "another",
    do: "setCondition",
    name: "model",
    values: ["6", "6E"],
  });
  await openPlan(page, server, made.id);
  const row = rowOf(page, "First chapter");
  await row.click();
  await page.keyboard.press("a");
  const panel = page.getByRole("dialog", { name: "Applies to" });
  await expect(panel.getByLabel("6", { exact: true })).toBeFocused();
  await page.keyboard.press("Tab");
  await page.keyboard.press("Space");
  await page.keyboard.press("Enter");
  await expect(row.locator(".applies")).toHaveText("model 6E");
  await page.keyboard.press("Control+z");
  await expect(row.locator(".applies")).toHaveText("·");
});
