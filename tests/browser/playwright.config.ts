import { defineConfig } from "@playwright/test";

export default defineConfig({
  testDir: ".",
  testMatch: "*.spec.ts",
  fullyParallel: false,
  // Each worker has a server and a database of its own; a test waits more than it computes.
  workers: 2,
  // A machine that others keep busy is slow, not wrong.
  timeout: 300_000,
  expect: { timeout: 60_000 },
  forbidOnly: true,
  use: {
    viewport: { width: 1280, height: 800 },
    launchOptions: {
      executablePath: "/usr/bin/chromium",
      args: [
        ...(process.getuid?.() === 0 ? ["--no-sandbox"] : []),
        "--disable-gpu",
        "--disable-background-networking",
        "--disable-component-update",
        "--disable-sync",
        "--no-first-run",
      ],
    },
  },
});
