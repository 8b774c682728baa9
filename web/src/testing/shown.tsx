import { ChakraProvider } from "@chakra-ui/react";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import type { ReactNode } from "react";
import { renderToStaticMarkup } from "react-dom/server";
import { MemoryRouter, Route, Routes } from "react-router";
import { SignedInContext, type SignedIn } from "../session/context";
import { system } from "../theme/system";
import type { UnitSystem } from "../units/format";

/** What the server has answered before, by the key of its query. */
export type Known = [key: readonly unknown[], data: unknown][];

/** Where a page stands: the route's pattern and an address that fits it. */
export interface Address {
  pattern: string;
  path: string;
}

export const ANYWHERE: Address = { pattern: "*", path: "/" };

interface Around {
  units: UnitSystem;
  may: boolean;
  known: Known;
  at: Address;
  children: ReactNode;
}

/** What stands around every view: who is signed in, what was answered, where it is. */
export function Around({ units, may, known, at, children }: Around) {
  const queries = new QueryClient({
    defaultOptions: { queries: { staleTime: Infinity, retry: false } },
  });
  for (const [key, data] of known) queries.setQueryData(key, data);
  const signedIn: SignedIn = {
    person: { name: "Maud", email: "m@example.org", units, theme: "light" },
    farm: {
      slug: "f",
      name: "F",
      role: "manager",
      may: [],
      simulated: false,
      valve_control: false,
    },
    farms: [],
    units,
    may: () => may,
  };
  return (
    <ChakraProvider value={system}>
      <QueryClientProvider client={queries}>
        <MemoryRouter initialEntries={[at.path]}>
          <SignedInContext value={signedIn}>
            <Routes>
              <Route path={at.pattern} element={children} />
            </Routes>
          </SignedInContext>
        </MemoryRouter>
      </QueryClientProvider>
    </ChakraProvider>
  );
}

/** A view as a signed-in person gets it, as markup; for tests of what it says. */
export function shown(
  view: ReactNode,
  units: UnitSystem = "metric",
  may = true,
  known: Known = [],
  at: Address = ANYWHERE,
): string {
  const markup = renderToStaticMarkup(
    <Around units={units} may={may} known={known} at={at}>
      {view}
    </Around>,
  );
  return markup
    .replaceAll(/<style[^>]*>.*?<\/style>/gs, "")
    .replaceAll("<!-- -->", "")
    .replaceAll("&#x27;", "'");
}

/** The same as a person reads it: words and figures alone. */
export function text(
  view: ReactNode,
  units: UnitSystem = "metric",
  may = true,
  known: Known = [],
  at: Address = ANYWHERE,
): string {
  return shown(view, units, may, known, at)
    .replaceAll(/<[^>]+>/g, " ")
    .replaceAll(/\s+/g, " ")
    .trim();
}
