import { svelte } from "@sveltejs/vite-plugin-svelte";
import tailwindcss from "@tailwindcss/vite";
import { defineConfig } from "vitest/config";

export default defineConfig({
  plugins: [tailwindcss(), svelte()],
  resolve: { alias: { $api: "/src/api/client.ts" } },
  build: {
    outDir: "../src/lowfold/web",
    emptyOutDir: true,
    assetsInlineLimit: 0, // the content security policy allows no data: fonts
    modulePreload: { polyfill: false },
  },
  test: { include: ["tests/**/*.test.ts"], setupFiles: ["tests/setup.ts"] },
  server: { proxy: { "/api": "http://127.0.0.1:8000" } },
});
