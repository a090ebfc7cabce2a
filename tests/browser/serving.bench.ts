// What the server does under many writers and many manuals; run by bench/run, which prints one JSON line of each measure.
import { randomUUID } from "node:crypto";
import { appendFileSync, mkdtempSync, readFileSync } from "node:fs";
import { createRequire } from "node:module";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { expect, test } from "@playwright/test";
import { proofOf } from "./desk";
import { at, generated, report } from "./measuring";
import { KivrenServer, root } from "./server";

const { HubConnectionBuilder, LogLevel } = createRequire(
  join(root, "web/package.json"),
)("@microsoft/signalr") as typeof import("@microsoft/signalr");

const pause = (milliseconds: number) =>
  new Promise((resolve) => setTimeout(resolve, milliseconds));

/** Megabytes that the process has in memory, of the kernel's own count. */
const megabytes = (pid: number, line: "VmRSS" | "VmHWM") =>
  Number(
    new RegExp(`${line}:\\s+(\\d+) kB`).exec(
      readFileSync(`/proc/${pid}/status`, "utf8"),
    )![1],
  ) / 1024;

interface Answer {
  act: number;
  accepted: { id: string; version: number }[];
  refused: unknown[];
}

const paragraph = (id: string, text: string) =>
  JSON.stringify({
    type: "paragraph",
    attrs: { id },
    content: [{ type: "text", text }],
  });

/** One batch of blocks, as a browser sends it. */
const save = (
  server: KivrenServer,
  manual: string,
  writer: string,
  blocks: {
    id: string;
    division: string;
    basedOn: number;
    body: string;
    after: string | null;
  }[],
) =>
  server.post<Answer>(`/manuals/${manual}/batches`, {
    id: randomUUID(),
    writer,
    label: "Typing",
    joined: null,
    divisions: null,
    blocks: blocks.map((b) => ({ ...b, deleted: false })),
  });

test("100 manuals of 100 pages opened one after another", async () => {
  process.env.KIVREN_IDLE_SECONDS = "20";
  const server = new KivrenServer();
  await server.start();
  delete process.env.KIVREN_IDLE_SECONDS;
  const file = generated("long.kivren", "--pages", 103, "--seed", 1).file;
  let pages = 0;
  for (let n = 0; n < 100; n++) {
    const manual = await server.openPackage(file);
    pages = (await proofOf(server, manual)).pageCount;
  }
  report("pages of each of 100 manuals", pages);
  report(
    "server, 100 manuals opened, at most, MB",
    megabytes(server.pid, "VmHWM"),
  );
  let idle = megabytes(server.pid, "VmRSS");
  for (let waited = 0; waited < 120 && idle > 400; waited += 5) {
    await pause(5_000);
    idle = megabytes(server.pid, "VmRSS");
  }
  report("server, idle again, MB", idle);
  await server.kill();
});

test("20 writers in one manual of 1,000 pages", async () => {
  const server = new KivrenServer();
  await server.start();
  const manual = await server.openPackage(
    generated("long.kivren", "--pages", 1030, "--seed", 1).file,
  );
  const proof = await proofOf(server, manual);
  report("pages that 20 writers work in", proof.pageCount);
  const chapters = proof.divisions.filter((d) => d.kind === "Chapter");
  const { token } = await server.get<{ token: string }>("/site");
  let composed = 0;
  const writers = await Promise.all(
    Array.from({ length: 20 }, async (_, n) => {
      const hub = new HubConnectionBuilder()
        .withUrl(`${server.url}/live?site=${token}`, {
          headers: { Cookie: `kivren-site=${token}`, Origin: server.url },
        })
        .configureLogging(LogLevel.None)
        .build();
      hub.on("proof", (message: { act: number }) => {
        composed = Math.max(composed, message.act);
      });
      hub.on("changed", () => undefined);
      hub.on("here", () => undefined);
      await hub.start();
      await hub.invoke("Join", manual);
      const division = chapters[(n * 7) % chapters.length]!.id;
      const id = randomUUID().replaceAll("-", "");
      return {
        name: `w${n}`,
        hub,
        division,
        id,
        text: "",
        version: 0,
        sent: "",
      };
    }),
  );
  const times: number[] = [];
  let act = 0;
  const round = async (keys: number, counted: boolean) => {
    await Promise.all(
      writers.map(async (w, n) => {
        await pause(n * 10);
        let sending: Promise<void> | null = null;
        const send = async () => {
          while (w.sent !== w.text) {
            const text = w.text;
            const begun = performance.now();
            const answer = await save(server, manual, w.name, [
              {
                id: w.id,
                division: w.division,
                basedOn: w.version,
                body: paragraph(w.id, text),
                after: w.version === 0 ? "" : null,
              },
            ]);
            if (counted) times.push(performance.now() - begun);
            expect(answer.refused).toEqual([]);
            w.version = answer.accepted[0]!.version;
            w.sent = text;
            act = Math.max(act, answer.act);
          }
          sending = null;
        };
        for (let key = 0; key < keys; key++) {
          w.text += key % 6 === 5 ? " " : "abcdefgh"[key % 8];
          sending ??= send();
          await pause(200);
        }
        await sending;
      }),
    );
  };
  await round(25, false);
  await round(150, true);
  const last = performance.now();
  while (composed < act && performance.now() - last < 30_000) await pause(5);
  report("20 writers: settled after the last key", performance.now() - last);
  report("20 writers: saves", times.length);
  report("20 writers: 95 of 100 saves answered in", at(times, 0.95));
  report("20 writers: a save, median", at(times, 0.5));
  report("20 writers: the slowest save", Math.max(...times));
  for (const w of writers) {
    const { blocks } = await server.get<{
      blocks: { id: string; body: unknown }[];
    }>(`/manuals/${manual}/divisions/${w.division}`);
    expect(JSON.stringify(blocks.find((b) => b.id === w.id)?.body)).toContain(
      w.text,
    );
    await w.hub.stop();
  }

  // Paste of 5,000 paragraphs, and a save of another writer in the middle of it.
  const pasted: number[] = [];
  const waited: number[] = [];
  for (let n = 0; n < 5; n++) {
    const ids = Array.from({ length: 5_000 }, () =>
      randomUUID().replaceAll("-", ""),
    );
    const begun = performance.now();
    const paste = save(
      server,
      manual,
      "w0",
      ids.map((id, i) => ({
        id,
        division: writers[0]!.division,
        basedOn: 0,
        body: paragraph(id, `Pasted paragraph ${i} of the works.`),
        after: i === 0 ? "" : ids[i - 1]!,
      })),
    ).then((answer) => {
      pasted.push(performance.now() - begun);
      expect(answer.refused).toEqual([]);
    });
    await pause(60);
    const w = writers[1]!;
    const asked = performance.now();
    const answer = await save(server, manual, w.name, [
      {
        id: w.id,
        division: w.division,
        basedOn: w.version,
        body: paragraph(w.id, `${w.text} ${n}`),
        after: null,
      },
    ]);
    waited.push(performance.now() - asked);
    w.version = answer.accepted[0]!.version;
    await paste;
  }
  report("paste of 5,000 paragraphs, stored, median", at(pasted, 0.5));
  report("paste of 5,000 paragraphs, stored, slowest", Math.max(...pasted));
  report("another writer's save meanwhile, slowest", Math.max(...waited));
  await server.kill();
});
