import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig } from "vitest/config";
import { compressed } from "./scripts/compressed.ts";

export default defineConfig({
  plugins: [react(), tailwindcss(), compressed()],
  build: {
    chunkSizeWarningLimit: 1200,
    // By it the server knows which files a screen needs.
    manifest: "screens.json",
    // What screens share is one file: on a slow line ten small ones wait for each other.
    rolldownOptions: {
      output: { advancedChunks: { groups: [{ name: "common", minShareCount: 2 }] } },
    },
  },
  // One set of modules for all files: what they import is most of their time.
  test: { isolate: false },
  server: { proxy: { "/api": "http://127.0.0.1:8460" } },
});
