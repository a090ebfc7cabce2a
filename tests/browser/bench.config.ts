import { defineConfig } from "@playwright/test";
import tests from "./playwright.config";

export default defineConfig({
  ...tests,
  testMatch: "*.bench.ts",
  // What is measured has the machine to itself.
  workers: 1,
  timeout: 600_000,
});
