import react from "@vitejs/plugin-react";
import { defineConfig } from "vitest/config";
import { VitePWA } from "vite-plugin-pwa";

export default defineConfig({
  plugins: [
    react(),
    VitePWA({
      registerType: "autoUpdate",
      injectRegister: null,
      manifest: {
        name: "Even Furrow",
        short_name: "Even Furrow",
        description: "Which blocks need water, when and how much; rounds without signal.",
        start_url: "/",
        display: "standalone",
        background_color: "#f6f2e8",
        theme_color: "#f6f2e8",
        icons: [
          { src: "/icon-192.png", sizes: "192x192", type: "image/png" },
          { src: "/icon-512.png", sizes: "512x512", type: "image/png", purpose: "any maskable" },
        ],
      },
      workbox: {
        globPatterns: ["assets/**/*.{js,css,woff2}", "furrow.svg"],
        maximumFileSizeToCacheInBytes: 4_000_000,
        navigateFallback: null,
        runtimeCaching: [
          {
            // The page carries its own nonce in header and markup, so a kept one is whole.
            urlPattern: ({ request }) => request.mode === "navigate",
            handler: "NetworkFirst",
            options: {
              cacheName: "page",
              networkTimeoutSeconds: 5,
              // One page stands behind every address.
              plugins: [{ cacheKeyWillBeUsed: () => Promise.resolve("/") }],
            },
          },
          {
            // What a round and the day's jobs need where there is no signal; nothing else of a farm is kept.
            urlPattern: ({ url }) =>
              url.pathname === "/api/session" || /^\/api\/farms\/[^/]+\/(rounds|jobs)$/.test(url.pathname),
            handler: "NetworkFirst",
            options: { cacheName: "field", networkTimeoutSeconds: 5 },
          },
        ],
      },
    }),
  ],
  build: {
    // index.html is moved up after the build: the server gives it its nonce,
    // while everything in "public" is served as it is.
    outDir: "dist/public",
    emptyOutDir: true,
    // Small fonts must stay files: the content policy allows no data: fonts.
    assetsInlineLimit: 0,
    chunkSizeWarningLimit: 900,
  },
  // Only a run that is broken waits this long; no test is to fail because the machine is busy.
  test: { testTimeout: 300_000, hookTimeout: 300_000 },
  server: { proxy: { "/api": "http://127.0.0.1:8420" } },
});
