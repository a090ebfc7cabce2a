// What all measurements share; they are run by bench/run.
import { execFileSync } from "node:child_process";
import { appendFileSync, mkdtempSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import type { Page } from "@playwright/test";
import { root } from "./server";

/** Notes a figure for bench/results.md. */
export const report = (name: string, value: number) =>
  appendFileSync(
    process.env.KIVREN_BENCH_REPORT!,
    JSON.stringify({ name, value: Math.round(value) }) + "\n",
  );

/** The time that this share of all times does not exceed. */
export const at = (times: number[], share: number) =>
  [...times].sort((a, b) => a - b)[
    Math.min(times.length - 1, Math.floor(times.length * share))
  ]!;

export const median = (times: number[]) => at(times, 0.5);

/** A generated manual, of the format that its name says, and what the generator says of it. */
export function generated(name: string, ...options: (string | number)[]) {
  const file = join(mkdtempSync(join(tmpdir(), "kivren-")), name);
  const said = execFileSync("dotnet", [
    join(root, "src/Kivren.Cli/bin/Release/net10.0/kivren.dll"),
    "generate",
    ...options.map(String),
    "-o",
    file,
  ]).toString();
  return { file, said };
}

/** Milliseconds from an act until something holds in the page, looked at with each frame; both are script. */
export const until = (page: Page, act: string, holds: string) =>
  page.evaluate<number>(`new Promise((done, failed) => {
    const begun = performance.now();
    ${act};
    const look = () => {
      if (${holds}) done(performance.now() - begun);
      else if (performance.now() - begun > 30000) failed(new Error('it never held'));
      else requestAnimationFrame(look);
    };
    look();
  })`);
