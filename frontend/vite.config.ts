import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig } from "vitest/config";

// The dev server hands /api to a running `python -m noonshade serve`.
const backend = process.env.NOONSHADE_BACKEND ?? "http://127.0.0.1:8620";

export default defineConfig({
  plugins: [react(), tailwindcss()],
  // Fonts stay files of their own: the content policy allows none inline.
  build: {
    // Into the Python package, which serves it.
    outDir: "../noonshade/web/static",
    emptyOutDir: true,
    assetsInlineLimit: 0,
    chunkSizeWarningLimit: 900,
  },
  test: { include: ["src/**/*.test.ts"], environment: "node" },
  server: {
    host: "127.0.0.1",
    proxy: { "/api": { target: backend, changeOrigin: true, headers: { origin: backend } } },
  },
});
