import { createContext, useContext } from "react";
import type { UnitSystem } from "../units/format";
import type { Action, FarmRef, Session } from "./queries";

/** Who is at the screen, on which farm, in which units. */
export interface SignedIn {
  person: NonNullable<Session["person"]>;
  farm: FarmRef;
  farms: FarmRef[];
  units: UnitSystem;
  may: (action: Action) => boolean;
}

export const SignedInContext = createContext<SignedIn | null>(null);

export function useSignedIn(): SignedIn {
  const value = useContext(SignedInContext);
  if (!value) throw new Error("used outside a signed-in page");
  return value;
}
