import { useState } from "react";

/**
 * Text that is being typed, and what is meant by it: as typed until the input is left, as shown
 * afterwards. What can't be read is passed on as it stands, so that nothing is lost unseen.
 */
export function useTyped(
  value: string,
  change: (value: string) => void,
  read: (text: string) => string | null,
  show: (value: string) => string,
) {
  const [draft, setDraft] = useState<string | null>(null);
  return {
    typing: draft !== null,
    text: draft ?? show(value),
    type: (text: string) => {
      setDraft(text);
      change(read(text) ?? text.trim());
    },
    leave: () => setDraft(null),
  };
}
