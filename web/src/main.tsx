import "@fontsource-variable/atkinson-hyperlegible-next";
import "@fontsource-variable/bitter";
import { ChakraProvider } from "@chakra-ui/react";
import createCache from "@emotion/cache";
import { CacheProvider } from "@emotion/react";
import { QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { RouterProvider } from "react-router";
import { router } from "./app/routes";
import { language } from "./language/language";
import { makeQueries } from "./session/makeQueries";
import { system } from "./theme/system";

// The page's content policy lets styles in by this nonce only.
const nonce = document.querySelector<HTMLMetaElement>('meta[name="csp-nonce"]')?.content ?? "";
const cache = createCache({ key: "ef", nonce });

document.documentElement.lang = language;
const queries = makeQueries();

const root = document.getElementById("root");
if (!root) throw new Error("the page has no root");
createRoot(root).render(
  <StrictMode>
    <CacheProvider value={cache}>
      <ChakraProvider value={system}>
        <QueryClientProvider client={queries}>
          <RouterProvider router={router} />
        </QueryClientProvider>
      </ChakraProvider>
    </CacheProvider>
  </StrictMode>,
);

// Rounds are walked without signal: the worker keeps the page and what a round needs.
if (import.meta.env.PROD && "serviceWorker" in navigator) {
  void navigator.serviceWorker.register("/sw.js");
}
