import { useEffect, useState } from "react";
import { lasting, moved } from "./changes";
import type { BlockSets, SheetChange, SheetData, SheetSet } from "./queries";

/** An irrigation on its way to another place: dragged, or pushed by keys. */
export interface Draft {
  set: SheetSet;
  start: number;
  hours: number;
  byKey: boolean;
}

const KEYS_SETTLE_MS = 700;

/** The change that a draft comes to; null when it is where it was. */
export function draftChange(sheet: SheetData, draft: Draft | null): BlockSets | null {
  if (!draft) return null;
  if (draft.hours !== draft.set.hours) {
    const longer = lasting(sheet, draft.set, draft.hours);
    return {
      ...longer,
      sets: longer.sets.map((s) => (s.id === draft.set.id ? { ...s, start: draft.start } : s)),
    };
  }
  return draft.start === draft.set.start ? null : moved(sheet, draft.set, draft.start);
}

/** Holds what is being moved until it is saved; keys are saved once they rest. */
export function useDraft(
  sheet: SheetData,
  save: (change: SheetChange, done: () => void) => void,
  saving: boolean,
) {
  const [draft, setDraft] = useState<Draft | null>(null);
  const change = draftChange(sheet, draft);
  const body: SheetChange | null = change && { edit: sheet.edit, blocks: [change] };
  const settle = () => {
    if (body) save(body, () => setDraft(null));
    else setDraft(null);
  };
  useEffect(() => {
    if (!draft?.byKey || saving) return;
    const timer = setTimeout(settle, KEYS_SETTLE_MS);
    return () => clearTimeout(timer);
    // Each key press makes another draft.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [draft, saving]);
  return { draft, setDraft, body, settle };
}
