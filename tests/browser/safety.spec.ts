import type { Browser, Page } from "@playwright/test";
import { blocksOf, closeTab, openAt, settled, textOf } from "./desk";
import { expect, KivrenServer, startRedis, test } from "./server";

test("text typed while the server is down survives closing the tab and a restart", async ({
  browser,
}) => {
  const server = new KivrenServer();
  await server.start();
  try {
    const made = await server.post<{ id: string }>("/manuals", {
      title: "Offline",
    });
    const context = await browser.newContext();
    let page = await context.newPage();
    const division = await openAt(page, server, made.id, "First chapter");
    await page.locator(".manuscript").focus();
    await page.keyboard.type("Typed online. ");
    await settled(page);
    await server.kill();
    await page.keyboard.type("Typed offline.");
    await expect(page.locator("[data-save]")).toHaveAttribute(
      "data-save",
      "offline",
    );
    await closeTab(page);
    await server.start();
    page = await context.newPage();
    await page.goto(`${server.url}/#/${made.id}/${division.id}`);
    await expect(page.locator(".manuscript")).toContainText(
      "Typed online. Typed offline.",
    );
    await settled(page);
    expect(textOf((await blocksOf(server, made.id, division.id))[0])).toBe(
      "Typed online. Typed offline.",
    );
    await context.close();
  } finally {
    await server.kill();
  }
});

test("an edit while the server is away goes up by itself when it is back", async ({
  page,
}) => {
  const server = new KivrenServer();
  await server.start();
  try {
    const made = await server.post<{ id: string }>("/manuals", {
      title: "Away",
    });
    const division = await openAt(page, server, made.id, "First chapter");
    await server.kill();
    await page.locator(".manuscript").focus();
    await page.keyboard.type("Nobody there.");
    await expect(page.locator("[data-save]")).toHaveAttribute(
      "data-save",
      "offline",
    );
    await page.keyboard.press("Enter");
    await page.keyboard.type("Still nobody.");
    await server.start();
    await expect(page.locator("[data-save]")).toHaveAttribute(
      "data-save",
      "saved",
      { timeout: 30_000 },
    );
    expect((await blocksOf(server, made.id, division.id)).map(textOf)).toEqual([
      "Nobody there.",
      "Still nobody.",
    ]);
  } finally {
    await server.kill();
  }
});

/** Saves of a page stay under way until they are released. */
async function holdSaves(page: Page) {
  let release = () => {};
  let caught = () => {};
  const held = new Promise<void>((resolve) => (release = resolve));
  const seen = new Promise<void>((resolve) => (caught = resolve));
  await page.route("**/batches", async (route) => {
    caught();
    await held;
    await route.continue();
  });
  return { seen: () => seen, release: () => release() };
}

/** Another writer makes a note that says “Theirs.” of a paragraph at its first version. */
async function intoNote(
  server: KivrenServer,
  manual: string,
  division: string,
  paragraph: { attrs: Record<string, unknown> },
) {
  const id = paragraph.attrs.id as string;
  const answer = await server.post<{ refused: unknown[] }>(
    `/manuals/${manual}/batches`,
    {
      id: crypto.randomUUID(),
      writer: "another",
      label: "Typing",
      joined: null,
      blocks: [
        {
          id,
          division,
          basedOn: 1,
          body: JSON.stringify({
            type: "admonition",
            attrs: { id, kind: "note" },
            content: [
              {
                type: "paragraph",
                attrs: { id: `${id}-in` },
                content: [{ type: "text", text: "Theirs." }],
              },
            ],
          }),
          after: null,
          deleted: false,
        },
      ],
    },
  );
  expect(answer.refused).toEqual([]);
}

for (const [button, expected] of [
  ["Keep mine", ["Mine."]],
  ["Take theirs", ["Theirs."]],
  ["Both", ["Theirs.", "Mine."]],
] as const)
  test(`a block that two made into different kinds shows both texts; “${button}” ends it, and typing elsewhere goes on`, async ({
    page,
    server,
  }) => {
    const made = await server.post<{ id: string }>("/manuals", {
      title: "Two places",
    });
    // The save is held back until another writer's has gone in; caught from before the page is there, so that none slips by.
    const saves = await holdSaves(page);
    const division = await openAt(page, server, made.id, "First chapter");
    const body = (await blocksOf(server, made.id, division.id))[0]!;
    await page.locator(".manuscript").focus();
    await page.keyboard.type("Mine.");
    await saves.seen();
    await intoNote(server, made.id, division.id, body);
    saves.release();
    const conflict = page.getByRole("group", { name: "Changed in two places" });
    await expect(conflict).toContainText("Mine.");
    await expect(conflict).toContainText("Theirs.");
    await expect(page.locator("[data-save]")).toHaveAttribute(
      "data-save",
      "refused",
    );
    await conflict.getByRole("button", { name: button }).click();
    await settled(page);
    expect((await blocksOf(server, made.id, division.id)).map(textOf)).toEqual(
      expected,
    );
    await page.locator(".manuscript").focus();
    await page.keyboard.press("Control+End");
    await page.keyboard.press("Enter");
    await page.keyboard.type("Elsewhere.");
    await settled(page);
    expect(
      (await blocksOf(server, made.id, division.id)).map(textOf).join(" "),
    ).toContain("Elsewhere.");
  });

test("another kind of block that another writer makes of what one types in, while a save is under way, is not written over", async ({
  page,
  server,
}) => {
  const made = await server.post<{ id: string }>("/manuals", {
    title: "Under way",
  });
  const saves = await holdSaves(page);
  const told = new Promise<void>((resolve) =>
    page.on("websocket", (socket) =>
      socket.on("framereceived", ({ payload }) => {
        if (payload.toString().includes("Theirs.")) resolve();
      }),
    ),
  );
  const division = await openAt(page, server, made.id, "First chapter");
  const body = (await blocksOf(server, made.id, division.id))[0]!;
  await page.locator(".manuscript").focus();
  await page.keyboard.press("End");
  await page.keyboard.press("Enter");
  await page.keyboard.type("Elsewhere.");
  await saves.seen();
  // Not under way yet: the save that is holds only the block behind.
  await page.keyboard.press("ArrowUp");
  await page.keyboard.type("Mine.");
  await intoNote(server, made.id, division.id, body);
  await told;
  saves.release();
  const conflict = page.getByRole("group", { name: "Changed in two places" });
  await expect(conflict).toContainText("Mine.");
  await expect(conflict).toContainText("Theirs.");
});

test("another writer’s words come in while one types, and undo does not touch them", async ({
  page,
  browser,
  server,
}) => {
  const made = await server.post<{ id: string }>("/manuals", {
    title: "Two writers",
  });
  await openAt(page, server, made.id, "First chapter");
  const other = await (await browser.newContext()).newPage();
  await openAt(other, server, made.id, "First chapter");
  await page.locator(".manuscript").focus();
  await page.keyboard.type("By one.");
  await settled(page);
  await expect(other.locator(".manuscript")).toContainText("By one.");
  await other.locator(".manuscript").focus();
  await other.keyboard.press("Control+End");
  await other.keyboard.press("Enter");
  await other.keyboard.type("By two.");
  await settled(other);
  await expect(page.locator(".manuscript")).toContainText("By two.");
  await page.locator(".manuscript").focus();
  await page.keyboard.press("Control+z");
  await settled(page);
  await expect(page.locator(".manuscript")).toContainText("By two.");
  await expect(page.locator(".manuscript")).not.toContainText("By one.");
  await other.context().close();
});

/** Two writers, each in a browser at a process of its own or both at one, type into one paragraph; every letter of both is there. */
async function typeAtRandom(
  browser: Browser,
  [own, others]: [KivrenServer, KivrenServer],
) {
  const seconds = Number(process.env.KIVREN_TYPING_SECONDS ?? 6);
  const made = await own.post<{ id: string }>("/manuals", {
    title: "One paragraph",
  });
  const page = await (await browser.newContext()).newPage();
  const division = await openAt(page, own, made.id, "First chapter");
  await page.locator(".manuscript").focus();
  await page.keyboard.type("the band brake holds the drum");
  await settled(page);
  const other = await (await browser.newContext()).newPage();
  await openAt(other, others, made.id, "First chapter");
  // Each writer has letters of their own, so that none can stand in for another's.
  const type = async (tab: Page, letters: string, seed: number) => {
    let typed = "";
    await tab.locator(".manuscript").focus();
    const end = Date.now() + seconds * 1000;
    let n = seed;
    const random = (most: number) => (n = (n * 48271) % 2147483647) % most;
    while (Date.now() < end) {
      await tab.keyboard.press(
        ["Home", "End", "ArrowLeft", "ArrowRight"][random(4)]!,
      );
      for (let i = random(5); i >= 0; i--) {
        const letter = letters[random(letters.length)]!;
        await tab.keyboard.type(letter);
        typed += letter;
      }
    }
    return typed;
  };
  const [one, two] = await Promise.all([
    type(page, "ABCDEFGH", 11),
    type(other, "12345678", 23),
  ]);
  await settled(page);
  await settled(other);
  const text = textOf((await blocksOf(own, made.id, division.id))[0]);
  const sorted = (letters: string) => [...letters].sort().join("");
  expect(sorted(text.replace(/[^A-H]/g, ""))).toBe(sorted(one));
  expect(sorted(text.replace(/[^1-8]/g, ""))).toBe(sorted(two));
  expect(text.replace(/[A-H1-8]/g, "")).toBe("the band brake holds the drum");
  for (const tab of [page, other])
    await expect(tab.locator(".manuscript p").first()).toHaveText(text);
  await expect(page.locator("[data-others]")).toContainText("1 other writer");
  await page.context().close();
  await other.context().close();
}

test("two writers type into one paragraph at random: the text holds every letter of both", async ({
  browser,
  server,
}) => {
  await typeAtRandom(browser, [server, server]);
});

test("two writers at two processes on the same data type into one paragraph at random", async ({
  browser,
}) => {
  const redis = await startRedis();
  const one = new KivrenServer(redis.address);
  await one.start();
  const two = new KivrenServer(redis.address, one);
  await two.start();
  await typeAtRandom(browser, [one, two]);
  await two.kill();
  await one.kill();
  await redis.kill();
});

test("words that the server cannot store stay in the text, are told, and the rest goes on", async ({
  page,
  server,
}) => {
  const made = await server.post<{ id: string }>("/manuals", {
    title: "Not stored",
  });
  const division = await openAt(page, server, made.id, "First chapter");
  await page.locator(".manuscript").focus();
  await page.route("**/batches", (route) =>
    (route.request().postData() ?? "").includes("Unlucky")
      ? route.fulfill({
          status: 500,
          contentType: "application/json",
          body: JSON.stringify({ what: "Kivren could not do this." }),
        })
      : route.continue(),
  );
  await page.keyboard.type("Unlucky words.");
  const aside = page.getByRole("group", { name: "Not stored" });
  await expect(aside).toContainText("Kivren could not do this.");
  await expect(page.locator(".manuscript")).toContainText("Unlucky words.");
  await page.keyboard.press("Control+End");
  await page.keyboard.press("Enter");
  await page.keyboard.type("Lucky words.");
  await expect
    .poll(async () =>
      (await blocksOf(server, made.id, division.id)).map(textOf),
    )
    .toContain("Lucky words.");
  // The division opens again all the same, with the words in it.
  await page.reload();
  await expect(page.locator(".manuscript")).toContainText("Unlucky words.");
  await expect(page.locator(".manuscript")).toContainText("Lucky words.");
  // They are sent again on opening: only once that was refused too is there something to try.
  const again = aside.getByRole("button", { name: "Try again" });
  await expect(again).toBeVisible();
  await page.unroute("**/batches");
  await again.click();
  await settled(page);
  expect((await blocksOf(server, made.id, division.id)).map(textOf)).toEqual([
    "Unlucky words.",
    "Lucky words.",
  ]);
});

test("words left over from an earlier visit come back into a paragraph that another writer changed meanwhile", async ({
  browser,
}) => {
  const server = new KivrenServer();
  await server.start();
  try {
    const made = await server.post<{ id: string }>("/manuals", {
      title: "Left over",
    });
    const context = await browser.newContext();
    let page = await context.newPage();
    const division = await openAt(page, server, made.id, "First chapter");
    await page.locator(".manuscript").focus();
    await page.keyboard.type("the drum turns");
    await settled(page);
    const before = (await blocksOf(server, made.id, division.id))[0]!;
    await server.kill();
    await page.keyboard.type(", slowly");
    await expect(page.locator("[data-save]")).toHaveAttribute(
      "data-save",
      "offline",
    );
    await closeTab(page);
    await server.start();
    const { blocks } = await server.get<{
      blocks: { id: string; version: number }[];
    }>(`/manuals/${made.id}/divisions/${division.id}`);
    await server.post(`/manuals/${made.id}/batches`, {
      id: crypto.randomUUID(),
      writer: "another",
      label: "Typing",
      joined: null,
      blocks: [
        {
          id: blocks[0]!.id,
          division: division.id,
          basedOn: blocks[0]!.version,
          body: JSON.stringify({
            ...before,
            content: [{ type: "text", text: "Now the drum turns" }],
          }),
          after: null,
          deleted: false,
        },
      ],
    });
    page = await context.newPage();
    await page.goto(`${server.url}/#/${made.id}/${division.id}`);
    await expect(page.locator(".manuscript")).toContainText(
      "Now the drum turns, slowly",
    );
    await settled(page);
    expect(textOf((await blocksOf(server, made.id, division.id))[0])).toBe(
      "Now the drum turns, slowly",
    );
    await context.close();
  } finally {
    await server.kill();
  }
});

test("two tabs on one division keep and send their own words", async ({
  browser,
}) => {
  const server = new KivrenServer();
  await server.start();
  try {
    const made = await server.post<{ id: string }>("/manuals", {
      title: "Two tabs",
    });
    const context = await browser.newContext();
    const [one, two] = [await context.newPage(), await context.newPage()];
    const division = await openAt(one, server, made.id, "First chapter");
    await openAt(two, server, made.id, "First chapter");
    await server.kill();
    await one.bringToFront();
    await one.locator(".manuscript").focus();
    await one.keyboard.type("AAA");
    await two.bringToFront();
    await two.locator(".manuscript").focus();
    await two.keyboard.type("BBB");
    for (const tab of [one, two])
      await expect(tab.locator("[data-save]")).toHaveAttribute(
        "data-save",
        "offline",
      );
    await one.close();
    await two.close();
    await server.start();
    const page = await context.newPage();
    await page.goto(`${server.url}/#/${made.id}/${division.id}`);
    await expect(page.locator(".manuscript")).toContainText("AAA");
    await expect(page.locator(".manuscript")).toContainText("BBB");
    await settled(page);
    const text = textOf((await blocksOf(server, made.id, division.id))[0]);
    expect([...text].sort().join("")).toBe("AAABBB");
    await context.close();
  } finally {
    await server.kill();
  }
});

test("a server killed while one types in a note, a cell and a caption: all of it is there when it is back", async ({
  page,
}) => {
  const server = new KivrenServer();
  await server.start();
  try {
    const { id } = await server.post<{ id: string }>("/manuals/sample", {});
    const division = await openAt(page, server, id, "Winch and brake");
    await settled(page);
    const offline = () =>
      expect(page.locator("[data-save]")).toHaveAttribute(
        "data-save",
        "offline",
      );
    const text = page.locator(".manuscript").first();
    await text.locator("> p").first().click();
    await page.keyboard.press("End");
    await page.keyboard.press("Control+;");
    await page.keyboard.press("n");
    const note = page.getByRole("textbox", { name: "Text of the footnote" });
    await expect(note).toBeFocused();
    await page.keyboard.type("Noted before, ");
    await server.kill();
    await page.keyboard.type("and while it was away.");
    await page.keyboard.press("Enter");
    await offline();
    await text.locator(".table td").first().click();
    await page.keyboard.press("End");
    await page.keyboard.type(" cell words");
    await text.locator(".figure figcaption").first().click();
    await page.keyboard.press("End");
    await page.keyboard.type(" caption words");
    await offline();
    await server.start();
    await settled(page);
    const stored = JSON.stringify(await blocksOf(server, id, division.id));
    for (const words of [
      "Noted before, and while it was away.",
      " cell words",
      " caption words",
    ])
      expect(stored.split(words)).toHaveLength(2);
  } finally {
    await server.kill();
  }
});

test("two writers make steps and quotations of one list at once: both hear of it, and no word is lost", async ({
  page,
  browser,
  server,
}) => {
  const made = await server.post<{ id: string }>("/manuals", {
    title: "One list",
  });
  const division = await openAt(page, server, made.id, "First chapter");
  await page.locator(".manuscript").focus();
  await page.keyboard.press("Control+.");
  await page.keyboard.press("l");
  await page.keyboard.type("Look first");
  await page.keyboard.press("Enter");
  await page.keyboard.type("Then pull");
  await settled(page);
  const other = await (await browser.newContext()).newPage();
  await openAt(other, server, made.id, "First chapter");
  await expect(other.locator(".manuscript li")).toHaveCount(2);
  const saves = await holdSaves(page);
  await page.keyboard.press("Control+a");
  await page.keyboard.press("Control+.");
  await page.keyboard.press("s");
  await other.locator(".manuscript li").first().click();
  await other.keyboard.press("Control+.");
  await other.keyboard.press("q");
  await settled(other);
  saves.release();
  await expect(page.locator("[data-save]")).toHaveAttribute(
    "data-save",
    /saved|refused/,
  );
  const shown = async () =>
    (await page.locator(".screen").textContent())! +
    JSON.stringify(await blocksOf(server, made.id, division.id));
  for (const words of ["Look first", "Then pull"])
    expect(await shown()).toContain(words);
  await other.context().close();
});
