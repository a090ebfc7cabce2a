import { defineConfig } from "@playwright/test";
import tests from "./playwright.config";

export default defineConfig({
  ...tests,
  testMatch: "*.bench.ts",
  timeout: 600_000,
});
