import react from "@vitejs/plugin-react";
import { defineConfig } from "vite";

export default defineConfig({
  plugins: [react()],
  build: {
    // index.html is moved up after the build: the server gives it its nonce,
    // while everything in "public" is served as it is.
    outDir: "dist/public",
    emptyOutDir: true,
    // Small fonts must stay files: the content policy allows no data: fonts.
    assetsInlineLimit: 0,
    chunkSizeWarningLimit: 900,
  },
  server: { proxy: { "/api": "http://127.0.0.1:8420" } },
});
