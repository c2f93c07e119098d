import { svelte } from "@sveltejs/vite-plugin-svelte";
import tailwindcss from "@tailwindcss/vite";
import { defineConfig } from "vite";

export default defineConfig({
  plugins: [tailwindcss(), svelte()],
  resolve: { alias: { $api: "/src/api/client.ts" } },
  build: {
    outDir: "../src/lowfold/web",
    emptyOutDir: true,
    assetsInlineLimit: 0, // the content security policy allows no data: fonts
    modulePreload: { polyfill: false },
  },
  server: { proxy: { "/api": "http://127.0.0.1:8000" } },
});
