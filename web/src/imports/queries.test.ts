import { QueryClient } from "@tanstack/react-query";
import { expect, test } from "vitest";
import { progressKey, stepBegun, type FileImport } from "./queries";

test("what was heard of the step before is not taken for the end of this one", () => {
  const queries = new QueryClient();
  queries.setQueryData(progressKey("f", 3), { id: 3, state: "checked" });
  const storing = { id: 3, state: "storing" } as FileImport;
  stepBegun(queries, "f", storing);
  expect(queries.getQueryData(progressKey("f", 3))).toEqual(storing);
});
