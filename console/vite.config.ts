import { fileURLToPath, URL } from "node:url";
import vue from "@vitejs/plugin-vue";
import { defineConfig } from "vitest/config";

export default defineConfig({
  // What stands between two elements is a space, on one line or on two: prettier counts on it, as CSS
  // does; else a line that it breaks would join two words.
  plugins: [vue({ template: { compilerOptions: { whitespace: "preserve" } } })],
  resolve: { alias: { "@": fileURLToPath(new URL("./src", import.meta.url)) } },
  build: { outDir: "../src/plumrake/service/console", emptyOutDir: true },
  test: { environment: "happy-dom", isolate: false, include: ["src/**/*.test.ts"] },
  server: { proxy: { "/api": "http://127.0.0.1:8600" } },
});
