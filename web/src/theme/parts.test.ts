import { recipes, slotRecipes } from "@chakra-ui/react/theme";
import { expect, it } from "vitest";
import { RECIPES, SLOT_RECIPES } from "./parts";

const SOURCES = import.meta.glob<string>("../**/*.tsx", {
  query: "?raw",
  import: "default",
  eager: true,
});
const IMPORT = /import \{([^}]*)\} from "@chakra-ui\/react"/g;

/** The parts that the interface is made of, as Chakra names their styles: NativeSelect, nativeSelect. */
function used(): Set<string> {
  const names = Object.values(SOURCES).flatMap((source) =>
    [...source.matchAll(IMPORT)].flatMap((m) => (m[1] ?? "").match(/\b[A-Z]\w+/g) ?? []),
  );
  return new Set(names.map((n) => n.charAt(0).toLowerCase() + n.slice(1)));
}

it("has the styles of every part that is used", () => {
  const parts = used();
  expect(parts.size).toBeGreaterThan(20);
  const ours = { ...RECIPES, ...SLOT_RECIPES };
  const styled = Object.keys({ ...recipes, ...slotRecipes });
  expect(styled.filter((name) => parts.has(name) && !(name in ours))).toEqual([]);
});

it("has no styles of parts that nobody uses", () => {
  const parts = used();
  // Drawn within others: the tick of a checkbox, an icon in a button.
  const within = new Set(["checkmark", "icon"]);
  const ours = Object.keys({ ...RECIPES, ...SLOT_RECIPES });
  expect(ours.filter((name) => !parts.has(name) && !within.has(name))).toEqual([]);
});
