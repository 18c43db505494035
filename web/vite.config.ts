import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig } from "vitest/config";

export default defineConfig({
  plugins: [react(), tailwindcss()],
  build: {
    outDir: "dist",
    assetsDir: "assets/app",
    chunkSizeWarningLimit: 900,
    rolldownOptions: {
      output: {
        // Type keeps its name: the server finds it by that for pages that stand alone.
        assetFileNames: ({ names }) =>
          names.some((n) => n.endsWith(".woff2"))
            ? "assets/app/[name][extname]"
            : "assets/app/[name]-[hash][extname]",
      },
    },
  },
  server: { proxy: { "/api": "http://127.0.0.1:8640" } },
  test: {
    environment: "jsdom",
    setupFiles: ["src/test-setup.ts"],
    testTimeout: 120_000,
    hookTimeout: 120_000,
  },
});
