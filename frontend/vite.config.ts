import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig } from "vitest/config";

export default defineConfig({
  plugins: [react(), tailwindcss()],
  build: { chunkSizeWarningLimit: 1200 },
  // One set of modules for all files: what they import is most of their time.
  test: { isolate: false },
  server: { proxy: { "/api": "http://127.0.0.1:8460" } },
});
