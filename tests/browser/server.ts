// The real server on a database of its own, for the browser tests.
import { test as base } from "@playwright/test";
import { spawn, type ChildProcess } from "node:child_process";
import { randomUUID } from "node:crypto";
import { mkdtempSync, readFileSync, rmSync } from "node:fs";
import { createInterface } from "node:readline";
import { createServer } from "node:net";
import { tmpdir } from "node:os";
import { dirname, join } from "node:path";
import { fileURLToPath } from "node:url";

export const root = join(dirname(fileURLToPath(import.meta.url)), "..", "..");

const freePort = () =>
  new Promise<number>((resolve) => {
    const probe = createServer();
    probe.listen(0, "127.0.0.1", () => {
      const { port } = probe.address() as { port: number };
      probe.close(() => resolve(port));
    });
  });

export class KivrenServer {
  private process: ChildProcess | null = null;
  url = "";
  private port = 0;
  private readonly connection: string;

  /** A process on a database of its own, or, given another, one more on its data: both then share an exchange. */
  constructor(
    private readonly exchange?: string,
    other?: KivrenServer,
  ) {
    if (other) {
      this.connection = other.connection;
      return;
    }
    const admin = process.env.KIVREN_TEST_DATABASE;
    if (!admin)
      throw new Error("KIVREN_TEST_DATABASE is not set; ./test sets it.");
    // The server's own migrations make the database when it is not there.
    this.connection = admin.replace(
      /Database=[^;]*/,
      "Database=b" + randomUUID().replaceAll("-", ""),
    );
  }

  /** @param demo the demo manuals stand on the shelf, as a writer finds them at the first start */
  async start(demo = false) {
    this.token = null;
    this.port ||= await freePort();
    this.process = spawn(
      "dotnet",
      [join(root, "src/Kivren.Server/bin/Release/net10.0/Kivren.Server.dll")],
      {
        env: {
          ...process.env,
          KIVREN_DATABASE: this.connection,
          KIVREN_ROOT: root,
          KIVREN_LOAD_DEMO: demo ? "1" : "0",
          ...(this.exchange ? { KIVREN_REDIS: this.exchange } : {}),
          ASPNETCORE_URLS: `http://127.0.0.1:${this.port}`,
        },
        stdio: ["ignore", "pipe", "inherit"],
      },
    );
    for await (const line of createInterface({ input: this.process.stdout! })) {
      const at = /^Kivren serves at (\S+)/.exec(line);
      if (at) {
        this.url = at[1]!;
        this.process.stdout!.resume();
        return;
      }
    }
    throw new Error("The server did not start.");
  }

  get pid() {
    return this.process!.pid!;
  }

  kill() {
    return new Promise<void>((resolve) => {
      this.process!.once("exit", () => resolve());
      this.process!.kill("SIGKILL");
    });
  }

  private token: Promise<string> | null = null;

  /** The token that every change names, with its cookie; asked for once. */
  private async site() {
    this.token ??= this.get<{ token: string }>("/site").then((s) => s.token);
    const token = await this.token;
    return { "X-Kivren-Site": token, Cookie: `kivren-site=${token}` };
  }

  async post<T>(path: string, body: unknown): Promise<T> {
    const raw = body instanceof Uint8Array;
    const answer = await fetch(`${this.url}/api${path}`, {
      method: "POST",
      headers: {
        ...(await this.site()),
        ...(raw ? {} : { "Content-Type": "application/json" }),
      },
      body: raw ? (body as BodyInit) : JSON.stringify(body),
    });
    if (!answer.ok)
      throw new Error(`${path}: ${answer.status} ${await answer.text()}`);
    const text = await answer.text();
    return (text ? JSON.parse(text) : undefined) as T;
  }

  async delete(path: string): Promise<void> {
    const answer = await fetch(`${this.url}/api${path}`, {
      method: "DELETE",
      headers: await this.site(),
    });
    if (!answer.ok) throw new Error(`${path}: ${answer.status}`);
  }

  async get<T>(path: string): Promise<T> {
    const answer = await fetch(`${this.url}/api${path}`);
    if (!answer.ok) throw new Error(`${path}: ${answer.status}`);
    return (await answer.json()) as T;
  }

  /** A copy of the demo for this test alone. */
  async demo(): Promise<string> {
    return (await this.post<{ id: string }>("/manuals/sample", {})).id;
  }

  /** A package straight onto the shelf. */
  async openPackage(file: string): Promise<string> {
    return (
      await this.post<{ id: string }>(
        "/manuals/package",
        new Uint8Array(readFileSync(file)),
      )
    ).id;
  }
}

/** The exchange of several processes, on a socket in a folder of its own. */
export async function startRedis() {
  const folder = mkdtempSync(join(tmpdir(), "kivren-redis-"));
  const socket = join(folder, "redis");
  const redis = spawn(
    "redis-server",
    ["--port", "0", "--unixsocket", socket, "--save", ""],
    { stdio: ["ignore", "pipe", "inherit"] },
  );
  for await (const line of createInterface({ input: redis.stdout }))
    if (/ready to accept connections/i.test(line)) break;
  redis.stdout.resume();
  return {
    address: "!" + socket,
    kill: () =>
      new Promise<void>((resolve) => {
        redis.once("exit", () => {
          rmSync(folder, { recursive: true });
          resolve();
        });
        redis.kill();
      }),
  };
}

export const test = base.extend<object, { server: KivrenServer }>({
  page: async ({ page }, use) => {
    // Files are asked of the test from the beginning: told only when a key is pressed, the browser may hear the key first.
    page.on("filechooser", () => {});
    await use(page);
  },
  server: [
    async ({}, use) => {
      const server = new KivrenServer();
      await server.start(true);
      await use(server);
      await server.kill();
    },
    { scope: "worker" },
  ],
});

export { expect } from "@playwright/test";
