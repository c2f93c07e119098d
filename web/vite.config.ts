import { svelte } from "@sveltejs/vite-plugin-svelte";
import tailwindcss from "@tailwindcss/vite";
import type { Plugin } from "vite";
import { defineConfig } from "vitest/config";

/** Licences of what is shipped without being a script: the fonts, and what the styles are made of. */
const SHIPPED = [
  "@fontsource-variable/literata",
  "@fontsource-variable/source-sans-3",
  "daisyui",
  "tailwindcss",
];
const licences: Plugin = {
  name: "licences",
  async generateBundle() {
    for (const name of SHIPPED) {
      const file = `licences/${name.split("/").at(-1)}.txt`;
      const source = await this.fs.readFile(`node_modules/${name}/LICENSE`, { encoding: "utf8" });
      this.emitFile({ type: "asset", fileName: file, source });
    }
  },
};

export default defineConfig({
  plugins: [tailwindcss(), svelte(), licences],
  resolve: { alias: { $api: "/src/api/client.ts" } },
  build: {
    outDir: "../src/lowfold/web",
    emptyOutDir: true,
    assetsInlineLimit: 0, // the content security policy allows no data: fonts
    modulePreload: { polyfill: false },
    license: { fileName: "licences/scripts.txt" },
  },
  test: { include: ["tests/**/*.test.ts"], setupFiles: ["tests/setup.ts"] },
  server: { proxy: { "/api": "http://127.0.0.1:8000" } },
});
