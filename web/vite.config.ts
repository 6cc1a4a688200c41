import react from "@vitejs/plugin-react";
import { defineConfig } from "vitest/config";

const api = process.env.CRISP_API ?? "http://127.0.0.1:8321";

export default defineConfig({
  plugins: [react()],
  build: { outDir: "../src/crisp_cadence/web", emptyOutDir: true, chunkSizeWarningLimit: 700 },
  server: { port: 5173, proxy: { "/api": { target: api, changeOrigin: true, headers: { origin: api } } } },
  test: {
    environment: "jsdom",
    include: ["src/**/*.test.{ts,tsx}"],
    setupFiles: ["src/testing/setup.ts"],
    testTimeout: 60_000, // ends a test that hangs; a slow machine is no failure
    css: { modules: { classNameStrategy: "non-scoped" } },
  },
});
