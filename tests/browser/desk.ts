// What a writer does, in short.
import { expect, type Locator, type Page } from "@playwright/test";
import { root, type KivrenServer } from "./server";

export interface Proof {
  number: number;
  pageCount: number;
  runs: { inserted: { key: string; folio: string; division: number }[] }[];
  divisions: {
    id: string;
    kind: string;
    title: string;
    number: string;
    firstSheet: number;
    pages: number;
    heads: { id: string; title: string; folio: string }[];
  }[];
  looseEnds: { kind: string; message: string; block: string }[];
}

export const proofOf = (server: KivrenServer, manual: string) =>
  server.get<Proof>(`/manuals/${manual}/proof`);

/** Opens a manual at a division, by its title, and waits until its proof is there. */
export async function openAt(
  page: Page,
  server: KivrenServer,
  manual: string,
  title: string,
) {
  const proof = await proofOf(server, manual);
  const division = proof.divisions.find((d) => d.title === title)!;
  await page.goto(`${server.url}/#/${manual}/${division.id}`);
  await expect(page.locator(".proof .page svg").first()).toBeVisible();
  await expect(
    page
      .getByRole("textbox", { name: `Text of ${title}`, exact: true })
      .locator("[data-id]")
      .first(),
  ).toBeVisible();
  return division;
}

/** Goes to a place of a long division by scrolling, a share of the way through, and clicks the paragraph in mid-window. */
export async function clickAt(page: Page, share: number) {
  const scroller = page.locator(".scroll:has(.manuscript)");
  // What was only guessed is measured on the way, so the first time may end beside the place.
  for (let times = 0; times < 2; times++)
    await scroller.evaluate(async (el, part) => {
      el.scrollTop = el.scrollHeight * part;
      await new Promise((done) =>
        requestAnimationFrame(() => requestAnimationFrame(done)),
      );
    }, share);
  const { x, y } = await scroller.evaluate((el) => {
    const box = el.getBoundingClientRect();
    const middle = box.top + box.height / 2;
    const near = [...el.querySelectorAll(".manuscript > p")]
      .map((p) => p.getBoundingClientRect())
      .filter((p) => p.height > 0)
      .sort((a, b) => Math.abs(a.top - middle) - Math.abs(b.top - middle))[0]!;
    return { x: near.left + near.width / 2, y: near.top + 12 };
  });
  await page.mouse.click(x, y);
  await expect(page.locator(".manuscript")).toBeFocused();
}

/** All that was typed is stored, and a composition of it is on the screen. */
export async function settled(page: Page) {
  await expect(page.locator("[data-save]")).toHaveAttribute(
    "data-save",
    "saved",
  );
  await expect(page.locator(".settled .moving")).toHaveCount(0);
}

export async function pageText(
  server: KivrenServer,
  manual: string,
  key: string,
): Promise<string> {
  const svg = await (
    await fetch(`${server.url}/api/manuals/${manual}/pages/${key}.svg`)
  ).text();
  // Each line is one text element, each word one span.
  return [...svg.matchAll(/<text[^>]*>(.*?)<\/text>/g)]
    .map((line) =>
      [...line[1]!.matchAll(/<tspan[^>]*>(.*?)<\/tspan>/g)]
        .map((w) => w[1])
        .join(" "),
    )
    .join("\n")
    .replaceAll("&#8217;", "’")
    .replaceAll("&#160;", " ");
}

/** The words of all pages of a kind of division, as the proof has them. */
export async function divisionText(
  server: KivrenServer,
  manual: string,
  kind: string,
): Promise<string> {
  const proof = await proofOf(server, manual);
  // Of several of a kind the one that is called so.
  const division =
    proof.divisions.find((d) => d.kind === kind && d.title === kind) ??
    proof.divisions.find((d) => d.kind === kind)!;
  const texts = [];
  for (
    let s = division.firstSheet;
    s < division.firstSheet + division.pages;
    s++
  )
    texts.push(await pageText(server, manual, proof.runs[0]!.inserted[s]!.key));
  return texts.join("\n");
}

export interface StoredNode {
  type: string;
  attrs: Record<string, unknown>;
  content?: StoredNode[];
}

export const blocksOf = async (
  server: KivrenServer,
  manual: string,
  division: string,
) =>
  (
    await server.get<{ blocks: { id: string; body: string }[] }>(
      `/manuals/${manual}/divisions/${division}`,
    )
  ).blocks.map((b) => JSON.parse(b.body) as StoredNode);

export const textOf = (node: unknown): string => {
  const n = node as { text?: string; content?: unknown[] };
  return (n.text ?? "") + (n.content ?? []).map(textOf).join("");
};

/** Opens the plan of a manual and gives it the focus. */
export async function openPlan(
  page: Page,
  server: KivrenServer,
  manual: string,
) {
  await page.goto(`${server.url}/#/${manual}/plan`);
  await expect(page.locator(".row").first()).toBeVisible();
  await page.getByRole("tree").focus();
}

export const rowOf = (page: Page, title: string) =>
  page.locator(".row", {
    has: page.locator(".words", { hasText: new RegExp(`^${title}$`) }),
  });

/** Brings files of demo/import in from the shelf, and waits for what they would make. */
export async function bringIn(
  page: Page,
  server: KivrenServer,
  names: string[],
) {
  await page.goto(`${server.url}/#/`);
  await expect(
    page.getByRole("button", { name: "Bring in documents…" }),
  ).toBeVisible();
  const [chooser] = await Promise.all([
    page.waitForEvent("filechooser"),
    page.getByRole("button", { name: "Bring in documents…" }).click(),
  ]);
  await chooser.setFiles(names.map((n) => `${root}/demo/import/${n}`));
  await expect(
    page.getByRole("grid", { name: "Styles and look-alikes" }),
  ).toBeVisible();
}

/** Closes a tab as a writer does: the page hears that it goes. */
export async function closeTab(page: Page) {
  const gone = page.waitForEvent("close");
  await page.close({ runBeforeUnload: true });
  await gone;
}

/** Opens by keyboard what a button asks for, and types there as soon as it takes the words. */
export async function typeInto(page: Page, button: Locator, words: string) {
  await button.press("Enter");
  await expect(page.getByRole("dialog").getByRole("textbox")).toBeFocused();
  await page.keyboard.type(words);
}
